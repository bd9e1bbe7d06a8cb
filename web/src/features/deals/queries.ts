/** Deals as the screens ask for them, under which keys, and what a change makes stale. */
import { queryOptions, useQuery, type QueryClient, type QueryKey } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, send, take, type Shapes } from '@/api/client'
import type { operations } from '@/api/schema'

export type Deal = Shapes['DealOut']
export type DealRow = Shapes['DealRow']
export type StageRow = Shapes['StageOut']
export type DealChange = Omit<Shapes['DealChange'], 'version'>

/** The pipeline's stages; they hardly ever change. */
export function useStages() {
  return useQuery({
    queryKey: ['stages'],
    queryFn: () => take(api.GET('/api/stages')),
    staleTime: 600_000,
  })
}

/** Why deals are closed; hardly ever changed either. */
export function useReasons() {
  return useQuery({
    queryKey: ['reasons'],
    queryFn: () => take(api.GET('/api/reasons')),
    staleTime: 600_000,
  })
}

export const dealKey = (id: number) => ['deal', id] as const
export function readDeal(id: number): Promise<Deal> {
  return take(api.GET('/api/deals/{deal_id}', { params: { path: { deal_id: id } } }))
}
export function dealQuery(id: number) {
  return queryOptions({ queryKey: dealKey(id), queryFn: () => readDeal(id) })
}

export interface DealFilters {
  state: string
  stage: string
  month: string
  owner: string
  team: string
  helped: string
  customer: string
  family: string
  since: string
  until: string
  stale: string
  confidence: string
  words: string
  least: string
  sort: string
  page: string
}
type DealQuery = NonNullable<operations['list_deals']['parameters']['query']>

/** The filters as the API takes them; empty ones are left out. */
export function asQuery(values: Partial<DealFilters>): DealQuery {
  return Object.fromEntries(Object.entries(values).filter(([, value]) => value !== ''))
}
export function useDealPage(values: Ref<Partial<DealFilters>>) {
  return useQuery({
    queryKey: computed(() => ['deals', values.value]),
    queryFn: ({ signal }) =>
      take(api.GET('/api/deals', { params: { query: asQuery(values.value) }, signal })),
    placeholderData: (before) => before,
  })
}

/** Change a deal; throws a `Fault` with status 409 where somebody changed it meanwhile. */
export function changeDeal(id: number, version: number, change: DealChange): Promise<Deal> {
  return take(
    api.PATCH('/api/deals/{deal_id}', {
      params: { path: { deal_id: id } },
      body: { version, ...change },
    }),
  )
}

/** What the Timetable comes to, as its page asks for it. */
export interface SumsAsked {
  key: QueryKey
  query: Shapes['TimetableColumns']
}
/** A deal moved on the Timetable, and the new sums in the same answer; sent before the board is drawn with it. */
export async function moveDeal(
  id: number,
  version: number,
  to: { stage: string; decision_on: string },
  sums: SumsAsked['query'],
): Promise<DealRow & { sums: Shapes['TimetableSums'] | null }> {
  const body = { rows: [{ id, version, ...to }], keep: true, sums }
  const done = await send<Shapes['TogetherOut']>('/api/deal-changes', body)
  const [row] = done.rows
  if (!row) throw new Error('a moved deal is told')
  return { ...row, sums: done.sums }
}

/** What a changed deal makes stale, but for the deal itself and what is under way. */
export const STALE_BY_A_DEAL = [['deals'], ['timetable'], ['forecast'], ['today']]
export function staleByDeal(client: QueryClient): void {
  for (const queryKey of STALE_BY_A_DEAL) void client.invalidateQueries({ queryKey })
}
