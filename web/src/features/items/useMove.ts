/** Giving the promise of one order to another: what it would move, and moving it as it was seen. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, type Ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { useAct } from '@/kit/act/useAct'

export type Plan = Shapes['DepotPlan']
export type Rider = Shapes['RiderOut']

/** Those of a plan that this person may move, in order of their days. */
export const movable = (plan: Plan): Rider[] =>
  plan.departures
    .flatMap((each) => each.riders)
    .filter((rider) => rider.line)
    .sort((one, other) => one.by.localeCompare(other.by))

export function useMove(item: number, plan: Ref<Plan>, done: (byBackOffice: boolean) => void) {
  const client = useQueryClient()
  const giver = ref<string | null>(null)
  const taker = ref<string | null>(null)
  const riders = computed(() => movable(plan.value))
  const gives = riders
  const takes = computed(() => riders.value.filter((each) => each.line !== giver.value))
  const chosen = computed(() => {
    const there = new Set(takes.value.map((each) => each.line))
    if (!giver.value || !taker.value || !there.has(taker.value)) return null
    return { depot_id: plan.value.depot_id, giver: giver.value, taker: taker.value }
  })
  const path = { item_id: item }
  const seen = useQuery({
    // What is promised may have changed since: asked anew each time, and with the page's figures.
    queryKey: computed(() => ['item-promise', item, 'move', chosen.value]),
    queryFn: ({ signal }) =>
      take(
        api.GET('/api/items/{item_id}/move', {
          params: { path, query: chosen.value ?? { depot_id: 0, giver: '', taker: '' } },
          signal,
        }),
      ),
    enabled: computed(() => chosen.value !== null),
    retry: false,
  })
  const { busy, run } = useAct(() => void client.invalidateQueries({ queryKey: ['item-promise'] }))
  const found = computed(() => (chosen.value ? seen.data.value : undefined))
  const ready = computed(() => !!found.value && !found.value.refused && !seen.isFetching.value)
  const go = () =>
    run(async () => {
      if (!chosen.value || !found.value || !ready.value) return
      const body = { ...chosen.value, mark: found.value.mark }
      const moved = await take(api.POST('/api/items/{item_id}/move', { params: { path }, body }))
      await client.invalidateQueries()
      done(moved.by_back_office)
    })
  return { giver, taker, gives, takes, found, error: seen.error, ready, busy, go }
}
