/** Leads as the screens ask for them, and what a change makes stale. */
import { useQuery, type QueryClient } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import type { operations } from '@/api/schema'

export type Lead = Shapes['LeadOut']
export type LeadChange = Omit<Shapes['LeadChange'], 'version'>
type LeadQuery = NonNullable<operations['list_leads']['parameters']['query']>

export const leadKey = (id: number) => ['lead', id] as const
export function useLead(id: number) {
  return useQuery({
    queryKey: leadKey(id),
    queryFn: () => take(api.GET('/api/leads/{lead_id}', { params: { path: { lead_id: id } } })),
  })
}
export function useLeadPage(values: Ref<Record<string, string>>) {
  return useQuery({
    queryKey: computed(() => ['leads', values.value]),
    queryFn: ({ signal }) => {
      const given = Object.entries(values.value).filter(([, value]) => value !== '')
      const query: LeadQuery = Object.fromEntries(given)
      return take(api.GET('/api/leads', { params: { query }, signal }))
    },
    placeholderData: (before) => before,
  })
}

/** Who wrote and is known to nobody; a mail does not announce itself. */
export const strangersQuery = {
  refetchInterval: 15_000,
  queryKey: ['strangers'],
  queryFn: ({ signal }: { signal: AbortSignal }) => take(api.GET('/api/strangers', { signal })),
}

/** What a changed lead makes stale. */
export const STALE_BY_A_LEAD = [['leads'], ['today']]
export function staleByLead(client: QueryClient): void {
  for (const queryKey of STALE_BY_A_LEAD) void client.invalidateQueries({ queryKey })
}
