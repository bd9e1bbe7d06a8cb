/** Agreements and standing orders, as they are asked for. */
import { useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'

export type Agreement = Shapes['AgreementWhole']
export type Standing = Shapes['StandingOrderOut']
export type State = '' | 'running' | 'asks' | 'behind' | 'used' | 'over' | 'coming'
export const STATES: State[] = ['', 'asks', 'behind', 'running', 'coming', 'used', 'over']

export function useAgreements(values: Ref<{ state: string; search: string; page: string }>) {
  return useQuery({
    queryKey: computed(() => ['agreements', values.value]),
    queryFn: ({ signal }) => {
      const { search, page } = values.value
      const query = { state: values.value.state as State, search, page: Number(page) || 1 }
      return take(api.GET('/api/agreements', { params: { query }, signal }))
    },
    placeholderData: (before) => before,
  })
}

export const agreementKey = (id: number) => ['agreement', id]
export function useAgreement(id: number) {
  return useQuery({
    queryKey: agreementKey(id),
    queryFn: ({ signal }) =>
      take(api.GET('/api/agreements/{pk}', { params: { path: { pk: id } }, signal })),
  })
}

export const standingKey = (id: number) => ['standing-order', id]
export function useStanding(id: number) {
  return useQuery({
    queryKey: standingKey(id),
    queryFn: ({ signal }) =>
      take(api.GET('/api/standing-orders/{pk}', { params: { path: { pk: id } }, signal })),
    enabled: id > 0,
  })
}
