/** How questions are asked: once more where the server did not answer, never where it refused. */
import { QueryCache, QueryClient } from '@tanstack/vue-query'
import { asFault } from '@/api/fault'
import { noteFresh, noteStale } from '@/kit/act/connection'

const MOST_TRIES = 2

export function askAgain(tries: number, error: Error): boolean {
  return tries < MOST_TRIES && asFault(error).passing
}

export function makeQueryClient(): QueryClient {
  return new QueryClient({
    queryCache: new QueryCache({
      onError(error, query) {
        if (query.state.data !== undefined && asFault(error).passing) {
          noteStale(query.state.dataUpdatedAt)
        }
      },
      onSuccess: noteFresh,
    }),
    defaultOptions: {
      queries: { retry: askAgain, staleTime: 5_000, refetchOnWindowFocus: true },
      mutations: { retry: false },
    },
  })
}
