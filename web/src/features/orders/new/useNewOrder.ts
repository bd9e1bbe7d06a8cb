/**
 * An order that is being written from quotes: what of each line, from where, by when and to which place.
 * What is typed stays in the browser until the order is written; sums, promises and standing are the server's.
 */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, toRaw, type Ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { asFault } from '@/api/fault'
import { useKeptForm } from '@/kit/draft/useKeptForm'
import { quantityOf } from '@/parts/regulars/typed'
import { t } from '@/words'
import {
  EMPTY,
  isUnread,
  nameOf,
  sourcesOf,
  type Answer,
  type Offered,
  type Plan,
  type Sent,
  type Split,
  type Typed,
} from './splits'

type Asked = Shapes['PlanIn'] & { sent: Sent[] }

/** A pause in typing after which the sums are asked for. */
const PAUSE_MS = 150
/**
 * @param answer what the buyer said at the first quote's address, where the order is written from that; 0 for none
 * @param mail the mail that says yes, where it is written from one; 0 for none
 */
export function useNewOrder(person: number, offers: Ref<number[]>, answer = 0, mail = 0) {
  const from = [...(answer ? [answer] : []), ...(mail ? [`mail-${mail}`] : [])]
  const place = [offers.value[0] ?? 0, ...from].join('-')
  const kept = useKeptForm<Typed>(person, `order-${place}`, 1, () => ({
    close: '',
    beyond: false,
    rows: {},
  }))
  const form = kept.form
  /** What was offered and is left, by itself: it changes only where somebody orders of it. */
  const base = useQuery({
    queryKey: computed(() => ['order-plan', offers.value]),
    queryFn: ({ signal }) => {
      const sources = offers.value.map((revision_id) => ({ revision_id, version: 1, take: [] }))
      return take(api.POST('/api/order-plan', { body: { sources }, signal }))
    },
    enabled: computed(() => offers.value.length > 0),
    placeholderData: (before) => before,
  })
  const buyer = useQuery({
    queryKey: computed(() => ['buyer', offers.value[0]]),
    queryFn: ({ signal }) => {
      const params = { path: { revision_id: offers.value[0] ?? 0 } }
      return take(api.GET('/api/revisions/{revision_id}/buyer', { params, signal }))
    },
    enabled: computed(() => answer > 0 && offers.value.length > 0),
  })
  const letter = useQuery({
    queryKey: ['mails', 'arrived', mail],
    queryFn: ({ signal }) => {
      const params = { path: { mail_id: mail } }
      return take(api.GET('/api/arrived-mails/{mail_id}', { params, signal }))
    },
    enabled: mail > 0,
  })
  /** What the mail gives: the buyer's number of it, the day that it is wanted by. */
  const gives = computed(() => letter.data.value?.says)
  const said = computed(() => buyer.data.value?.said.find((each) => each.id === answer))
  /** From what it is written, in words; nothing where a person writes it. */
  const whence = computed(() => {
    if (said.value) return t('orders.new.asSaid', { name: said.value.name })
    const { sender: name, says } = letter.data.value ?? {}
    return name ? t('orders.new.asWritten', { name, sentence: says?.sentence ?? '' }) : ''
  })
  /** Every line starts with all that is left of it, alternatives and options with nothing; or as the buyer said. */
  const usual = computed(() => {
    const found = new Map<string, Split[]>()
    for (const row of base.data.value?.rows ?? []) {
      const offer = base.data.value?.offers[row.offer]?.revision_id ?? 0
      found.set(nameOf(offer, row.key), [{ ...EMPTY, quantity: row.quantity }])
    }
    const first = base.data.value?.offers.find((each) => each.revision_id === offers.value[0])
    if (!said.value || !first) return found
    const taken = new Map(said.value.lines.map((line) => [line.key, line.quantity]))
    for (const { key } of first.lines) {
      found.set(nameOf(first.revision_id, key), [{ ...EMPTY, quantity: taken.get(key) ?? '' }])
    }
    return found
  })
  const rowsOf = (revision: number, key: string): Split[] => {
    const name = nameOf(revision, key)
    return form.value.rows[name] ?? usual.value.get(name) ?? [EMPTY]
  }
  const terms = computed(() => ({
    reference:
      form.value.reference ??
      (said.value?.reference || gives.value?.order_number || undefined) ??
      base.data.value?.buyer_reference ??
      '',
    wanted:
      form.value.wanted === undefined
        ? (gives.value?.wanted_on ?? base.data.value?.requested_on ?? null)
        : form.value.wanted,
    place:
      form.value.place === undefined
        ? (base.data.value?.usual_address_id ?? null)
        : form.value.place,
    parts: form.value.parts ?? base.data.value?.partial_deliveries ?? true,
  }))

  const asked = computed((before?: Asked) => {
    const now: Asked = {
      ...sourcesOf(base.data.value?.offers ?? [], rowsOf),
      requested_on: terms.value.wanted,
      delivery_address_id: terms.value.place,
    }
    return JSON.stringify(now) === JSON.stringify(before) && before ? before : now
  })
  const settled = refDebounced(asked, PAUSE_MS)
  /** What the buyer said is waited for: nothing else is summed up before it. */
  const known = computed(
    () => (!answer || buyer.isSuccess.value) && (!mail || !letter.isPending.value),
  )
  const sums = useQuery({
    queryKey: computed(() => ['order-plan', 'sums', settled.value]),
    queryFn: async ({ signal }) => {
      const { sent, ...body } = settled.value
      return { sent, plan: await take(api.POST('/api/order-plan', { body, signal })) }
    },
    enabled: computed(() => known.value && settled.value.sources.length > 0),
    placeholderData: (before) => before,
    retry: false,
  })
  const fault = computed(() => (sums.error.value ? asFault(sums.error.value) : null))
  const plan = computed(() => (asked.value.sources.length ? sums.data.value?.plan : undefined))
  const stale = computed(
    () =>
      sums.isFetching.value || sums.isPlaceholderData.value || asked.value !== toRaw(settled.value),
  )
  const answers = computed(() => {
    const found = new Map<string, Answer>()
    const { sent = [], plan: told } = sums.data.value ?? {}
    told?.rows.forEach((row, n) => {
      const at = sent[n]
      if (!at) return
      const promise = told.promises.lines.find((line) => line.key === String(n))
      const key = `${nameOf(at.offer, at.key)}:${at.split}`
      found.set(key, { net: row.net, beyond: row.beyond, promise })
    })
    return found
  })

  function put(revision: number, key: string, rows: Split[]): void {
    form.value = { ...form.value, rows: { ...form.value.rows, [nameOf(revision, key)]: rows } }
  }
  /** Change a part of a line; "=" is all that is left of it. */
  function type(revision: number, line: Offered, split: number, given: Partial<Split>): void {
    const meant = given.quantity?.trim() === '=' ? { ...given, quantity: line.left } : given
    const rows = rowsOf(revision, line.key).map((row, n) =>
      n === split ? { ...row, ...meant } : row,
    )
    put(revision, line.key, rows)
  }
  /** Another part of the same line, for another place or day. */
  const divide = (revision: number, key: string) =>
    put(revision, key, [...rowsOf(revision, key), { ...EMPTY }])
  const join = (revision: number, key: string, split: number) =>
    put(
      revision,
      key,
      rowsOf(revision, key).filter((_, n) => n !== split),
    )
  /** An alternative takes the place of its line, with its own quantity; or gives it back. */
  function instead(revision: number, line: Offered, original: Offered): void {
    const taken = rowsOf(revision, line.key).some((row) => row.quantity.trim())
    put(revision, line.key, [{ ...EMPTY, quantity: taken ? '' : line.left }])
    put(revision, original.key, [{ ...EMPTY, quantity: taken ? original.left : '' }])
  }

  /** Why the quantity of a part cannot be taken: what was typed, or what the server says of it. */
  function reasonOf(revision: number, key: string, split: number): string {
    const found = quantityOf(rowsOf(revision, key)[split]?.quantity ?? '')
    if (found && 'reason' in found) return found.reason
    const place = /^sources\[(\d+)\]\.lines\[(\d+)\]/.exec(fault.value?.path ?? '')
    const at = place && settledPlace(Number(place[1]), Number(place[2]))
    const here = at && at.offer === revision && at.key === key && at.split === split
    return here ? (fault.value?.message ?? '') : ''
  }
  function settledPlace(source: number, line: number): Sent | undefined {
    const revision = settled.value.sources[source]?.revision_id
    return settled.value.sent.filter(({ offer }) => offer === revision)[line]
  }
  const unread = computed(() => Object.values(form.value.rows).flat().some(isUnread))

  return {
    base,
    said,
    whence,
    sums,
    plan,
    stale,
    fault,
    form,
    terms,
    unread,
    answers,
    rowsOf,
    type,
    divide,
    join,
    instead,
    reasonOf,
    clear: kept.clear,
    /** What writing it sends along; only what was seen. */
    body: (seen: Plan) => ({
      sources: asked.value.sources,
      seen: { mark: seen.mark, payable: seen.payable },
      close_deal: form.value.close === 'yes',
      buyer_reference: terms.value.reference,
      requested_on: terms.value.wanted,
      delivery_address_id: terms.value.place,
      partial_deliveries: terms.value.parts,
      beyond: form.value.beyond,
      ...(said.value ? { answer_id: answer } : {}),
    }),
  }
}
