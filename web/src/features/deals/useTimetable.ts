/** The deals of the Timetable and what they come to: two answers, so that a move asks for the sums alone. */
import { useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import type { operations } from '@/api/schema'
import { asQuery, type DealFilters, type SumsAsked } from './queries'
import type { Column } from './weeks'

export type TimetableSums = Shapes['TimetableSums']
type SumsQuery = NonNullable<operations['get_timetable_sums']['parameters']['query']>

export const SUMS = ['timetable', 'sums'] as const

export function useTimetable(values: Ref<Partial<DealFilters>>, columns: Ref<Column[]>) {
  const key = computed(() => ['timetable', 'deals', values.value])
  const deals = useQuery({
    queryKey: key,
    queryFn: ({ signal }) =>
      take(api.GET('/api/timetable', { params: { query: asQuery(values.value) }, signal })),
    placeholderData: (before) => before,
    // Two thousand rows: compared one by one, or watched in their depth, they would hold up every move.
    structuralSharing: false,
    shallow: true,
  })
  const starts = computed(() => columns.value.slice(1).map((column) => column.from))
  const sumsKey = computed(() => [...SUMS, values.value, starts.value])
  const sums = useQuery({
    queryKey: sumsKey,
    queryFn: ({ signal }) => {
      const query: SumsQuery = { ...asQuery(values.value), starts: starts.value }
      return take(api.GET('/api/timetable/sums', { params: { query }, signal }))
    },
    placeholderData: (before) => before,
  })
  /** The same sums, asked for along with a move. */
  const asked = (): SumsAsked => {
    const { family, stale, ...given } = asQuery(values.value)
    const query = { ...given, family: !!family, stale: !!stale, starts: starts.value }
    return { key: sumsKey.value, query: query as SumsAsked['query'] }
  }
  return { key, deals, sums, asked }
}
