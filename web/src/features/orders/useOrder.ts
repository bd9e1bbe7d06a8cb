/** An order that is looked at, and every act on it: each answer stands, whatever was asked before it. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { me } from '@/api/session'
import { useAct } from '@/kit/act/useAct'
import { t } from '@/words'
import { isOpen, whereIs } from './change'
import { orderKey, orderQuery, type Order } from './queries'

export function useOrder(id: number) {
  const client = useQueryClient()
  const { data, error, refetch } = useQuery(orderQuery(id))
  const { busy, run } = useAct((fault) => {
    if (fault.status === 409) void refetch()
  })
  /** An act's answer stands: a question that was asked before it is not heard any more. */
  const act = (ask: () => Promise<Order>) =>
    run(async () => {
      const answer = await ask()
      await client.cancelQueries({ queryKey: orderKey(id) })
      client.setQueryData(orderKey(id), answer)
      void client.invalidateQueries({ queryKey: ['orders'] })
      void client.invalidateQueries({ queryKey: ['order-promises', id] })
    })
  const handOver = (order: Order) =>
    act(() =>
      take(
        api.POST('/api/orders/{order_id}/handover', {
          params: { path: { order_id: id } },
          body: { version: order.version, seen: seenOf(order) },
        }),
      ),
    )
  const seenOf = (order: Order) => ({ mark: order.mark, payable: order.payable })
  const ask = (order: Order, reason: string) =>
    act(() =>
      take(
        api.POST('/api/orders/{order_id}/sign-off', {
          params: { path: { order_id: id } },
          body: { reason, seen: seenOf(order) },
        }),
      ),
    )
  const answer = (order: Order, granted: boolean, comment: string) =>
    act(() =>
      take(
        api.POST('/api/order-sign-offs/{sign_off_id}', {
          params: { path: { sign_off_id: order.sign_off?.id ?? 0 } },
          body: { granted, comment, seen: seenOf(order) },
        }),
      ),
    )
  /** On Halt, or beyond a limit, an order waits until somebody has signed it off. */
  const waits = computed(() => data.value?.held_back && data.value.sign_off?.answer !== 'granted')
  const cancelling = ref(false)
  const cancel = (order: Order, reason: string) =>
    act(async () => {
      const body = { version: order.version, reason }
      const params = { path: { order_id: id } }
      const answer = await take(api.POST('/api/orders/{order_id}/cancel', { params, body }))
      cancelling.value = false
      void client.invalidateQueries()
      return answer
    })
  /** Today's prices in place of the locked ones, as they were seen. */
  const priceAgain = (order: Order, seen: { mark: string; payable: string }) =>
    act(async () => {
      const body = { version: order.version, seen }
      const params = { path: { order_id: id } }
      const answer = await take(api.POST('/api/orders/{order_id}/price-again', { params, body }))
      void client.invalidateQueries()
      return answer
    })
  const changing = ref(false)
  const canChange = computed(
    () =>
      me.value?.sells &&
      data.value &&
      !data.value.cancelled_at &&
      data.value.lines.some((line) => isOpen(line)),
  )
  /** Why it cannot be changed at this moment. */
  const cannotChange = computed(() => {
    if (!data.value) return ''
    if (whereIs(data.value) === 'way') return t('orders.change.onItsWay')
    const waits = data.value.changes.some((each) => OPEN.includes(each.state))
    return waits ? t('orders.change.waits') : ''
  })
  const OPEN = ['waiting', 'under_way', 'asked']
  const change = (body: Shapes['ChangeIn'], sent: () => void) =>
    act(async () => {
      const params = { path: { order_id: id } }
      const answer = await take(api.POST('/api/orders/{order_id}/changes', { params, body }))
      sent()
      changing.value = false
      void client.invalidateQueries()
      return answer
    })
  const notice = (change_id: number) =>
    act(() =>
      take(api.POST('/api/order-changes/{change_id}/noticed', { params: { path: { change_id } } })),
    )
  const askGoods = (line_id: number) =>
    act(() =>
      take(
        api.POST('/api/order-lines/{line_id}/goods', { params: { path: { line_id } }, body: {} }),
      ),
    )
  /** The buyer knows of a line's other day. */
  const newDay = (line_id: number) =>
    act(() =>
      take(api.POST('/api/order-lines/{line_id}/new-day', { params: { path: { line_id } } })),
    )
  /** It does not hand itself over. */
  const stop = () =>
    act(() => take(api.POST('/api/orders/{order_id}/stop', { params: { path: { order_id: id } } })))
  const again = (order: Order) =>
    act(() =>
      take(
        api.POST('/api/handovers/{handover_id}/again', {
          params: { path: { handover_id: order.handover?.id ?? 0 } },
          body: { version: order.handover?.version ?? 0 },
        }),
      ),
    )
  return {
    data,
    error,
    refetch,
    busy,
    handOver,
    ask,
    answer,
    waits,
    cancelling,
    cancel,
    priceAgain,
    changing,
    canChange,
    cannotChange,
    change,
    notice,
    askGoods,
    newDay,
    stop,
    again,
  }
}
