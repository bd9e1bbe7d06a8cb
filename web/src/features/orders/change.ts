/** What the buyer changes of an order, as typed; read once it is sent. */
import type { Shapes } from '@/api/client'
import { readNumber } from '@/kit/format/readNumber'
import type { Order } from './queries'

export interface TypedLine {
  quantity: string
  day: string | null
  place: number | null
  depot: number | null
}
export const lineUntyped = (): TypedLine => ({ quantity: '', day: null, place: null, depot: null })
export interface TypedChange {
  lines: Record<number, TypedLine>
  reason: string
  reference: string | null
  wanted: string | null
  address: number | null
}
export const nothingTyped = (): TypedChange => ({
  lines: {},
  reason: '',
  reference: null,
  wanted: null,
  address: null,
})
type Line = Order['lines'][number]

/** Whether anything of a line can still change: a line that left, or is not wanted any more, cannot. */
export const isOpen = (line: Line) =>
  line.quantity !== '0' && (line.service || line.shipped !== line.quantity)

/** A line's wish, `null` where it stays, or a word for why it cannot be read. */
export function wishOf(
  line: Line,
  typed: TypedLine | undefined,
): Shapes['WishIn'] | null | 'unread' {
  if (!typed) return null
  const wish: Shapes['WishIn'] = { line_id: line.id }
  const text = typed.quantity.trim()
  if (text) {
    const read = readNumber(text)
    if (!read || !('value' in read)) return 'unread'
    if (read.value !== line.quantity) wish.quantity = read.value
  }
  if (typed.day && typed.day !== line.wanted_on) wish.wanted_on = typed.day
  if (typed.place) wish.address_id = typed.place
  if (typed.depot && typed.depot !== line.depot_id) wish.depot_id = typed.depot
  return Object.keys(wish).length > 1 ? wish : null
}

/** What is sent of the whole; nothing where it stays, or where the back office has the order. */
function headOf(order: Order, typed: TypedChange): Shapes['HeadIn'] | undefined {
  const head: Shapes['HeadIn'] = {}
  if (typed.reference !== null && typed.reference.trim() !== order.buyer_reference)
    head.buyer_reference = typed.reference.trim()
  if (typed.wanted && typed.wanted !== order.requested_on) head.requested_on = typed.wanted
  if (typed.address) head.address_id = typed.address
  return Object.keys(head).length ? head : undefined
}

/** Who has the order: nobody yet, the back office, or it is on its way there. */
export function whereIs(order: Order): 'here' | 'theirs' | 'way' {
  const state = order.handover?.state
  if (!state || state === 'refused') return 'here'
  return state === 'waiting' || state === 'under_way' ? 'way' : 'theirs'
}

export function changeOf(
  order: Order,
  typed: TypedChange,
): { body: Shapes['ChangeIn']; says: boolean; unread: Line | null } {
  const wishes = order.lines.map((line) => ({ line, wish: wishOf(line, typed.lines[line.id]) }))
  const head = whereIs(order) === 'here' ? headOf(order, typed) : undefined
  const lines = wishes.flatMap(({ wish }) => (wish && wish !== 'unread' ? [wish] : []))
  return {
    body: {
      version: order.version,
      reason: typed.reason.trim(),
      lines,
      ...(head ? { head } : {}),
    },
    says: lines.length > 0 || head !== undefined,
    unread: wishes.find(({ wish }) => wish === 'unread')?.line ?? null,
  }
}
