/**
 * The quote desk's state: what was typed, what the core answered, and the saving between them.
 *
 * One save is under way at a time; what is typed meanwhile goes with the next. Until the server
 * has it, the draft also lies in the browser, so that a closed page loses nothing. A save that
 * meets somebody else's change (409) stops, keeps everything and asks.
 */
import { computed, ref, shallowRef, toRaw, type Ref } from 'vue'
import { Fault, api, take, type Shapes } from '@/api/client'

export type Kind = 'normal' | 'alternative' | 'optional' | 'heading' | 'note'
export type DeskLine = Omit<Shapes['DeskLine'], 'kind'> & { kind: Kind }
export type DeskCharge = Shapes['ChargeOut']
export interface DeskFields {
  valid_until: string
  discount_percent: string
  discount_amount: string
  discount_on: 'net' | 'gross'
  charges: DeskCharge[]
  buyer_reference: string
  message: string
  paper: 'short' | 'detailed'
  contact_id: number | null
}
export type Saving = 'saved' | 'typing' | 'saving' | 'offline' | 'stale' | 'refused'

interface State {
  lines: DeskLine[]
  fields: DeskFields
}
interface Kept extends State {
  version: number
}
const PAUSE_MS = 25
const RETRY_MS = 3000
const STEPS_BACK = 100

export function useDesk(quote: Ref<Shapes['QuoteOut'] | undefined>) {
  const lines = shallowRef<DeskLine[]>([])
  const fields = ref<DeskFields>(emptyFields())
  const answer = shallowRef<Shapes['Answer'] | null>(null)
  const saving = ref<Saving>('saved')
  const fault = ref<Fault | null>(null)
  const done: State[] = []
  let version = 0
  let dirty = false
  let busy = false
  let asOfToday = false
  let timer: ReturnType<typeof setTimeout> | undefined

  const id = computed(() => quote.value?.id ?? 0)
  const storageKey = () => `vivid-draft-${id.value}`

  /** Take over a quote as the server has it; a newer draft kept in this browser goes on top. */
  function load(from: Shapes['QuoteOut']): void {
    version = from.version
    lines.value = from.lines.map((line) => ({ ...line, kind: line.kind as Kind }))
    fields.value = {
      valid_until: from.valid_until,
      discount_percent: from.discount_percent ?? '',
      discount_amount: from.discount_amount ?? '',
      discount_on: from.discount_on as 'net',
      charges: from.charges,
      buyer_reference: from.buyer_reference,
      message: from.message,
      paper: from.paper as 'short',
      contact_id: from.contact_id,
    }
    answer.value = {
      id: from.id,
      version: from.version,
      saved_at: from.saved_at,
      on: from.on,
      priced: from.priced,
      problems: from.problems,
      excesses: from.excesses,
      sign_off: from.sign_off,
      standing: from.standing,
      base_payable: from.base_payable,
      days_left: from.days_left,
    }
    saving.value = 'saved'
    fault.value = null
    dirty = false
    const kept = localStorage.getItem(storageKey())
    if (from.state === 'draft' && kept) {
      const state = JSON.parse(kept) as Kept
      if (state.version === version) {
        lines.value = state.lines
        fields.value = state.fields
        touch()
      } else localStorage.removeItem(storageKey())
    }
  }

  /** Remember where we were, change, and let it be saved. */
  function change(next: Partial<State>): void {
    done.push(snapshot())
    if (done.length > STEPS_BACK) done.shift()
    put(next)
  }
  function put(next: Partial<State>): void {
    if (next.lines) lines.value = next.lines
    if (next.fields) fields.value = next.fields
    touch()
  }
  function snapshot(): State {
    return { lines: lines.value, fields: { ...toRaw(fields.value) } }
  }
  /** Take the last change back; whether there was one. */
  function undo(): boolean {
    const before = done.pop()
    if (before) put(before)
    return before !== undefined
  }

  function touch(): void {
    dirty = true
    if (saving.value !== 'stale') saving.value = 'typing'
    const kept: Kept = { ...snapshot(), version }
    localStorage.setItem(storageKey(), JSON.stringify(kept))
    plan(PAUSE_MS)
  }
  function plan(pause: number): void {
    clearTimeout(timer)
    timer = setTimeout(() => void flush(), pause)
  }

  /** Price the draft as of today; until then it keeps the prices of its day. */
  function priceToday(): void {
    asOfToday = true
    touch()
  }
  /** Save what is typed, now; resolves when the server has it or refused it. */
  async function flush(): Promise<void> {
    clearTimeout(timer)
    if (busy || !dirty || saving.value === 'stale') return
    busy = true
    dirty = false
    const again = asOfToday
    asOfToday = false
    saving.value = 'saving'
    try {
      const saved = await take(
        api.PUT('/api/revisions/{revision_id}', {
          params: { path: { revision_id: id.value } },
          body: {
            version,
            lines: lines.value.map(({ item, ...line }) => ({
              ...line,
              item_id: item?.id ?? null,
              quantity: line.quantity || null,
            })),
            valid_until: fields.value.valid_until,
            discount_percent: fields.value.discount_percent || null,
            discount_amount: fields.value.discount_amount || null,
            discount_on: fields.value.discount_on,
            charges: fields.value.charges,
            buyer_reference: fields.value.buyer_reference,
            message: fields.value.message,
            paper: fields.value.paper,
            contact_id: fields.value.contact_id,
            as_of_today: again,
          },
        }),
      )
      version = saved.version
      answer.value = reuse(answer.value, saved)
      fault.value = null
      if (!dirty) {
        saving.value = 'saved'
        localStorage.removeItem(storageKey())
      }
    } catch (error) {
      asOfToday ||= again
      stumble(error instanceof Fault ? error : new Fault(0, 'unknown', String(error)))
    } finally {
      busy = false
    }
    if (dirty && !waits()) await flush()
  }

  const waits = (): boolean => saving.value === 'offline'

  function stumble(error: Fault): void {
    fault.value = error
    if (error.status === 409 && error.code === 'stale') {
      saving.value = 'stale'
    } else if (error.status === 0 || error.status >= 500) {
      dirty = true
      saving.value = 'offline'
      plan(RETRY_MS)
    } else saving.value = 'refused'
  }

  /** Somebody else saved: keep mine, on top of theirs. */
  async function saveMine(): Promise<void> {
    const theirs = await take(
      api.GET('/api/revisions/{revision_id}', { params: { path: { revision_id: id.value } } }),
    )
    version = theirs.version
    saving.value = 'typing'
    dirty = true
    await flush()
  }
  /** Somebody else saved: take theirs; mine can be had back with undo. */
  async function takeTheirs(): Promise<void> {
    const mine = snapshot()
    localStorage.removeItem(storageKey())
    load(
      await take(
        api.GET('/api/revisions/{revision_id}', { params: { path: { revision_id: id.value } } }),
      ),
    )
    done.push(mine)
  }

  return {
    lines,
    fields,
    answer,
    saving,
    fault,
    load,
    change,
    undo,
    priceToday,
    flush,
    saveMine,
    takeTheirs,
    version: () => version,
  }
}

function emptyFields(): DeskFields {
  return {
    valid_until: '',
    discount_percent: '',
    discount_amount: '',
    discount_on: 'net',
    charges: [],
    buyer_reference: '',
    message: '',
    paper: 'short',
    contact_id: null,
  }
}

/** A line of goods as it starts; a heading or a note has no item. */
export function newLine(item: Shapes['ItemOut'] | null, kind: Kind = 'normal'): DeskLine {
  return {
    key: crypto.randomUUID(),
    kind,
    alternative_to: '',
    item,
    text: item?.name ?? '',
    quantity: item
      ? item.sales_unit === item.base_unit
        ? (item.minimum_quantity ?? '1')
        : '1'
      : '',
    unit: item?.sales_unit ?? '',
    price: null,
    price_reason: '',
    discount_percent: null,
    discount_amount: null,
  }
}

/** Whether a line is words alone: a heading or a note. */
export function wordsOnly(line: DeskLine): boolean {
  return line.kind === 'heading' || line.kind === 'note'
}

/** Keep the lines that did not change as the same objects, so that their rows stay untouched. */
function reuse(before: Shapes['Answer'] | null, next: Shapes['Answer']): Shapes['Answer'] {
  if (!before) return next
  const known = new Map(before.priced.lines.map((line) => [line.id, line]))
  const kept = next.priced.lines.map((line) => {
    const old = known.get(line.id)
    return old && JSON.stringify(old) === JSON.stringify(line) ? old : line
  })
  return { ...next, priced: { ...next.priced, lines: kept } }
}
