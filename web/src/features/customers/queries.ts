/** What the customer pages ask, and under which keys. */
import { queryOptions, useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'

export type Customer = Shapes['CustomerOut']

export const customerKey = (id: number) => ['customer', id] as const
export function customerQuery(id: number) {
  return queryOptions({
    queryKey: customerKey(id),
    queryFn: () =>
      take(api.GET('/api/customers/{customer_id}', { params: { path: { customer_id: id } } })),
  })
}
export function useCustomers(values: Ref<Record<'words' | 'owner' | 'sort' | 'page', string>>) {
  return useQuery({
    queryKey: computed(() => ['customers', values.value]),
    queryFn: ({ signal }) => {
      const { words, owner, sort, page } = values.value
      const query = { words, owner: owner ? Number(owner) : undefined, sort, page: Number(page) }
      return take(api.GET('/api/customers', { params: { query }, signal }))
    },
    placeholderData: (before) => before,
  })
}
