/**
 * The quote desk's state: what was typed, what the core answered, and the saving between them.
 *
 * What is typed is priced at once, without being stored; it is saved when the typing pauses. One
 * question and one save are under way at a time; what is typed meanwhile goes with the next. Until
 * the server has it, the draft also lies in the browser, so that a closed page loses nothing. A save that
 * meets somebody else's change (409) stops, keeps everything and asks.
 */
import { useDebounceFn, useEventListener } from '@vueuse/core'
import { computed, ref, shallowRef, toRaw, type Ref } from 'vue'
import { Fault, api, send, take, type Shapes } from '@/api/client'
import type { DeskLine, Kind } from '@/parts/line/line'

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
  requested_on: string | null
  delivery_address_id: number | null
  terms_days: number
  terms_end_of_month: '' | 'after' | 'before'
  terms_more: Shapes['MoreTermsOut']
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
/** How long the typing pauses before it is saved; the price does not wait for that. */
const PAUSE_MS = 350
/** The draft is kept in the browser this long after a key: it must not slow the key down. */
const KEEP_MS = 150
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
  let underWay = Promise.resolve()
  let asking = false
  let asOfToday = false
  /** Counts the states of the draft; an answer to an older one than is shown is not shown. */
  let now = 0
  let shownOf = 0
  /** The lines whose trails are in sight. */
  const trails = ref<string[]>([])
  let timer: ReturnType<typeof setTimeout> | undefined

  const id = computed(() => quote.value?.id ?? 0)
  const storageKey = () => `vivid-draft-${id.value}`

  /** Take over a quote as the server has it; a newer draft kept in this browser goes on top. */
  function load(fresh: Shapes['QuoteOut']): void {
    // The raw object: to compare hundreds of lines through reactive proxies costs 70 ms a key.
    const from = toRaw(fresh)
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
      requested_on: from.requested_on,
      delivery_address_id: from.delivery_address_id,
      terms_days: from.terms_days,
      terms_end_of_month: from.terms_end_of_month as '',
      terms_more: from.terms_more,
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
      checks: from.checks,
      standing: from.standing,
      base_payable: from.base_payable,
      days_left: from.days_left,
      early_yearly_rate: from.early_yearly_rate,
    }
    saving.value = 'saved'
    fault.value = null
    dirty = false
    const kept = localStorage.getItem(storageKey())
    if (from.state === 'draft' && kept) {
      const state = JSON.parse(kept) as Kept
      if (state.version === version) put(state)
      else if (same(state, snapshot())) forget()
      else {
        // Somebody saved since this was typed here: both are kept, the person chooses.
        version = state.version
        put(state)
        saving.value = 'stale'
      }
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
    now += 1
    if (saving.value !== 'stale') saving.value = 'typing'
    plan(PAUSE_MS)
    keepSoon()
    void ask()
  }
  /** Let go of what this browser keeps of the draft. */
  function forget(): void {
    localStorage.removeItem(storageKey())
  }
  /** Keep the draft in this browser, at the latest when the page goes. */
  function keep(): void {
    if (!dirty && !busy) return
    const kept: Kept = { ...snapshot(), version }
    localStorage.setItem(storageKey(), JSON.stringify(kept))
  }
  const keepSoon = useDebounceFn(keep, KEEP_MS)
  useEventListener(window, 'pagehide', keep)

  /** Ask what the draft as typed comes to; a refusal is left to the save to tell. */
  async function ask(): Promise<void> {
    if (asking || !id.value) return
    asking = true
    const of = now
    try {
      const body = { ...typed(), as_of_today: asOfToday, trails: trails.value }
      const found = await send<Shapes['QuickOut']>(`/api/revisions/${id.value}/price`, body)
      if (of > shownOf && answer.value) {
        shownOf = of
        const priced = { ...found.priced, lines: filled(answer.value, found.priced.lines) }
        // Limits are judged by the save that follows.
        const checks = { ...found.checks, limits: answer.value.checks.limits }
        answer.value = { ...answer.value, ...found, priced, checks }
      }
    } catch {
      return
    } finally {
      asking = false
    }
    if (of < now) void ask()
  }
  /** The draft as the server takes it. */
  function typed() {
    return {
      lines: lines.value.map(({ item, ...line }) => ({
        ...line,
        item_id: item?.id ?? null,
        quantity: line.quantity || null,
      })),
      ...fields.value,
      discount_percent: fields.value.discount_percent || null,
      discount_amount: fields.value.discount_amount || null,
    }
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
    if (busy) await underWay
    if (busy || !dirty || saving.value === 'stale') return
    underWay = save()
    await underWay
    if (dirty && !waits()) await flush()
  }
  async function save(): Promise<void> {
    busy = true
    dirty = false
    const again = asOfToday
    const of = now
    asOfToday = false
    saving.value = 'saving'
    try {
      const saved = await take(
        api.PUT('/api/revisions/{revision_id}', {
          params: { path: { revision_id: id.value } },
          body: { version, ...typed(), as_of_today: again },
        }),
      )
      version = saved.version
      if (of >= shownOf || !answer.value) {
        shownOf = of
        answer.value = reuse(answer.value, saved)
      } else {
        const { priced, problems } = answer.value
        answer.value = { ...saved, priced, problems }
      }
      fault.value = null
      if (!dirty) {
        saving.value = 'saved'
        forget()
      }
    } catch (error) {
      asOfToday ||= again
      stumble(error instanceof Fault ? error : new Fault(0, 'unknown', String(error)))
    } finally {
      busy = false
    }
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
    forget()
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
    trails,
    priceToday,
    flush,
    saveMine,
    takeTheirs,
    forget,
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
    requested_on: null,
    delivery_address_id: null,
    terms_days: 30,
    terms_end_of_month: '',
    terms_more: { instalments: [] },
    contact_id: null,
  }
}

/** Whether two states of a draft say the same. */
function same(one: State, other: State): boolean {
  return JSON.stringify([one.lines, one.fields]) === JSON.stringify([other.lines, other.fields])
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

type Line = Shapes['Answer']['priced']['lines'][number]

/**
 * Lines as an answer while typing brings them, with the rest as it was; a new line's rest is empty.
 * A line that did not change stays the same object, so that its row stays untouched.
 */
function filled(before: Shapes['Answer'], lines: Shapes['TypedLineOut'][]): Line[] {
  const known = new Map(before.priced.lines.map((line) => [line.id, line]))
  return lines.map((line) => {
    const old = known.get(line.id)
    return old && holds(old, line) ? old : { ...(old ?? EMPTY), ...line }
  })
}
/** Whether a line says all that the newer one says. */
function holds(old: Line, line: Shapes['TypedLineOut']): boolean {
  return (Object.keys(line) as (keyof Line)[]).every(
    (key) =>
      old[key] === line[key as 'id'] ||
      JSON.stringify(old[key]) === JSON.stringify(line[key as 'id']),
  )
}
const EMPTY = {
  source: null,
  amount: null,
  discount: null,
  counted: true,
  by_rules: null,
  split: null,
  document_discount_share: '0',
  steps: [],
  passed_over: [],
}
