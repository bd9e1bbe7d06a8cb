/** Deals as the screens ask for them. */
import { useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import type { operations } from '@/api/schema'

export type DealRow = Shapes['DealRow']

export const CONFIDENCE: Record<string, string> = {
  sure: 'Sure',
  likely: 'Likely',
  stretch: 'Stretch',
}

/** The pipeline's stages; they hardly ever change. */
export function useStages() {
  return useQuery({
    queryKey: ['stages'],
    queryFn: () => take(api.GET('/api/stages')),
    staleTime: 600_000,
  })
}

export interface DealFilters {
  state: string
  stage: string
  month: string
  owner: string
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

export function useDealPage(values: Ref<DealFilters>) {
  return useQuery({
    queryKey: computed(() => ['deals', values.value]),
    queryFn: () => take(api.GET('/api/deals', { params: { query: asQuery(values.value) } })),
    placeholderData: (before) => before,
  })
}

export type DealChange = Omit<Shapes['DealChange'], 'version'>

/** Change a deal; throws a `Fault` with status 409 where somebody changed it meanwhile. */
export function changeDeal(id: number, version: number, change: DealChange) {
  return take(
    api.PATCH('/api/deals/{deal_id}', {
      params: { path: { deal_id: id } },
      body: { version, ...change },
    }),
  )
}
