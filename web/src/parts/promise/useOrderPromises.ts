/** What can be promised now of what an order still has to get, and what else could be done. */
import { useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, take } from '@/api/client'

export function useOrderPromises(order: Ref<number>, enabled?: Ref<boolean>) {
  const { data, error, refetch } = useQuery({
    queryKey: computed(() => ['order-promises', order.value]),
    queryFn: ({ signal }) => {
      const path = { order_id: order.value }
      return take(api.GET('/api/orders/{order_id}/promises', { params: { path }, signal }))
    },
    enabled,
    refetchInterval: 60_000,
  })
  /** By the order line's id. */
  const byLine = computed(() => new Map(data.value?.lines.map((each) => [Number(each.key), each])))
  return { data, byLine, error, refetch }
}
