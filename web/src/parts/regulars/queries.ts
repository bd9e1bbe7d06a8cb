/** What the sheet of regulars asks. */
import { useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'

export type Row = Shapes['RegularOut']
export type Show = 'due' | 'bought' | 'group' | 'all'
export interface Asked {
  show: Show
  months: 12 | 24 | 36
  words: string
  page: number
}
export type Typed = Shapes['WantedRow']

export function useRegulars(customer: number, asked: Ref<Asked>) {
  return useQuery({
    queryKey: computed(() => ['regulars', customer, asked.value]),
    queryFn: ({ signal }) =>
      take(
        api.GET('/api/customers/{customer_id}/regulars', {
          params: { path: { customer_id: customer }, query: asked.value },
          signal,
        }),
      ),
    placeholderData: (before) => before,
  })
}

/** What stands around the sheet, whatever it shows: group, standing, drafts, depots. */
export function useAround(customer: number) {
  return useQuery({
    queryKey: ['regulars-around', customer],
    queryFn: ({ signal }) =>
      take(
        api.GET('/api/customers/{customer_id}/regulars/around', {
          params: { path: { customer_id: customer } },
          signal,
        }),
      ),
  })
}

/** What the typed rows come to; nothing while none is typed. */
export function useTypedPrice(customer: number, lines: Ref<Typed[]>) {
  return useQuery({
    queryKey: computed(() => ['regulars-price', customer, lines.value]),
    queryFn: ({ signal }) =>
      take(
        api.POST('/api/customers/{customer_id}/regulars/price', {
          params: { path: { customer_id: customer } },
          body: { lines: lines.value },
          signal,
        }),
      ),
    enabled: computed(() => lines.value.length > 0),
    placeholderData: (before) => before,
  })
}
