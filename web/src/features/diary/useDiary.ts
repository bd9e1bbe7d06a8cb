/** The diary's rows for the days and filters of the address. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, take } from '@/api/client'
import type { operations } from '@/api/schema'
import { todayIso } from '@/kit/format/format'
import { spanOf, type Span } from './days'

type Query = NonNullable<operations['list_diary']['parameters']['query']>
export interface DiaryFilters {
  whose: string
  owner: string
  kind: string
  customer: string
  words: string
  span: string
  day: string
  page: string
}

export function useDiary(values: Ref<DiaryFilters>) {
  const client = useQueryClient()
  const on = computed(() => values.value.day || todayIso())
  const days = computed(() => spanOf(on.value, values.value.span as Span))
  /** The address's filters as the server knows them. */
  const seen = computed((): Record<string, string> => {
    const { whose, owner, kind, customer, words, page } = values.value
    return { whose, owner, kind, customer, words, page, ...days.value }
  })
  const asked = computed(
    () => Object.fromEntries(Object.entries(seen.value).filter(([, value]) => value)) as Query,
  )
  const key = computed(() => ['diary', asked.value])
  const found = useQuery({
    queryKey: key,
    queryFn: ({ signal }) =>
      take(api.GET('/api/diary', { params: { query: asked.value }, signal })),
    placeholderData: (before) => before,
  })
  async function again(): Promise<void> {
    for (const queryKey of [['today'], ['visits'], ['customer'], ['deal']]) {
      void client.invalidateQueries({ queryKey })
    }
    await client.invalidateQueries({ queryKey: ['diary'] })
  }
  return { on, days, seen, found, again }
}
