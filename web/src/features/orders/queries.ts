/** What the order pages ask, under which keys, and how often an order is looked at again. */
import { queryOptions } from '@tanstack/vue-query'
import { api, take, type Shapes } from '@/api/client'

export type Order = Shapes['OrderOut']

/** While the back office is at it, news comes within a second or two; then ever more seldom. */
const SOON_MS = 1500
const LATER_MS = 15_000
const SELDOM_MS = 60_000
/** How long after the last news it still is "soon". */
const FRESH_MS = 120_000

/** How long until an order is asked for again. */
export function pauseFor(order: Order | undefined, now: number): number {
  if (!order) return SOON_MS
  if (['paid', 'credited'].includes(order.state)) return SELDOM_MS
  const moments = [...order.news.map((item) => item.at), order.handover?.created_at ?? '']
  const last = Math.max(...moments.map((at) => (at ? Date.parse(at) : 0)))
  if (isAwaited(order)) return SOON_MS
  const waiting = order.handover && !order.handover.taken_at && order.handover.state !== 'refused'
  return waiting || now - last < FRESH_MS ? SOON_MS : LATER_MS
}

/** Whether an answer of the back office is awaited: to a change, or to a request for goods. */
function isAwaited(order: Order): boolean {
  const open = ['waiting', 'under_way', 'asked']
  return [...order.changes, ...order.goods].some((each) => open.includes(each.state))
}

export const orderKey = (id: number) => ['order', id] as const
export function orderQuery(id: number) {
  return queryOptions({
    queryKey: orderKey(id),
    queryFn: ({ signal }) =>
      take(api.GET('/api/orders/{order_id}', { params: { path: { order_id: id } }, signal })),
    refetchInterval: (query) => pauseFor(query.state.data, Date.now()),
  })
}
