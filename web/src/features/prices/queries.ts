/** What the price pages ask, and what a changed price makes stale. */
import { useQuery, type QueryClient } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { maybe } from '@/words'

export type Kind = Shapes['KindOut']
export type Field = Shapes['FieldOut']
export type PriceRecord = Shapes['RecordOut']

/** What a kind of records, a field and a choice are called. */
export const kindName = (kind: Kind) => maybe(`records.kinds.${kind.name}`) ?? kind.name
export const fieldName = (field: string) => maybe(`records.fields.${field}`) ?? field
export const choiceName = (choice: string) => maybe(`records.choices.${choice}`) ?? choice

export function useKinds() {
  return useQuery({
    queryKey: ['price-kinds'],
    queryFn: () => take(api.GET('/api/prices/kinds')),
    staleTime: 600_000,
  })
}
export function useRecords(name: string, words: Ref<string>, page: Ref<string>) {
  return useQuery({
    queryKey: computed(() => ['price-records', name, words.value, page.value]),
    queryFn: ({ signal }) => {
      const query = { words: words.value, page: Number(page.value) || 1 }
      return take(
        api.GET('/api/prices/records/{name}', { params: { path: { name }, query }, signal }),
      )
    },
    placeholderData: (before) => before,
  })
}

/** Everything that is priced anew where a price record changed. */
const PRICED = ['price-records', 'price-check', 'again', 'items', 'pick-item', 'revision', 'kept-cases'] // prettier-ignore
export function staleByPrice(client: QueryClient): Promise<void> {
  return client.invalidateQueries({
    predicate: ({ queryKey }) => PRICED.includes(`${queryKey[0]}`),
  })
}

/** Whether a field holds a figure. */
export function numeric(field: Field): boolean {
  return field.kind === 'decimal' || field.kind === 'told'
}
