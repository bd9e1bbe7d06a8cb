/** What the customer pages ask, and under which keys. */
import { queryOptions, useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'

export type Customer = Shapes['CustomerOut']
/** What the list of customers is narrowed to on the day. */
export const DAYS = ['', 'unseen', 'due', 'overdue', 'limit', 'halt', 'caution', 'retired'] as const
export type Day = (typeof DAYS)[number]

export const customerKey = (id: number) => ['customer', id] as const
export function customerQuery(id: number) {
  return queryOptions({
    queryKey: customerKey(id),
    queryFn: () =>
      take(api.GET('/api/customers/{customer_id}', { params: { path: { customer_id: id } } })),
  })
}
export function useCustomers(
  values: Ref<Record<'words' | 'owner' | 'day' | 'sort' | 'page', string>>,
) {
  return useQuery({
    queryKey: computed(() => ['customers', values.value]),
    queryFn: ({ signal }) => {
      const { words, owner, day, sort, page } = values.value
      const query = {
        words,
        owner: owner ? Number(owner) : undefined,
        day: day as Day,
        sort,
        page: Number(page),
      }
      return take(api.GET('/api/customers', { params: { query }, signal }))
    },
    placeholderData: (before) => before,
  })
}
