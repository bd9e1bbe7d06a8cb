/** What the quote pages ask, under which keys, and what an act makes stale. */
import { queryOptions, type QueryClient } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, take, type Shapes } from '@/api/client'

export const revisionKey = (id: number) => ['revision', id] as const

export function readRevision(id: number): Promise<Shapes['QuoteOut']> {
  return take(api.GET('/api/revisions/{revision_id}', { params: { path: { revision_id: id } } }))
}
export function revisionQuery(id: number) {
  return queryOptions({ queryKey: revisionKey(id), queryFn: () => readRevision(id) })
}

/** Everything but this revision, which an act answers with. */
export function staleBut(client: QueryClient, id: number): Promise<void> {
  return client.invalidateQueries({
    predicate: ({ queryKey }) => !(queryKey[0] === 'revision' && queryKey[1] === id),
  })
}
/** A key that follows its parts. */
export function keyed(...parts: MaybeRefOrGetter<unknown>[]) {
  return computed(() => parts.map((part) => toValue(part)))
}
