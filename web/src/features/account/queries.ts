/** One's own visits, and how a browser is called. */
import { useQuery } from '@tanstack/vue-query'
import { api, take, type Shapes } from '@/api/client'

export type Visit = Shapes['VisitOut']
export const VISITS = ['visits'] as const

export function useVisits() {
  return useQuery({
    queryKey: VISITS,
    queryFn: ({ signal }) => take(api.GET('/api/session/visits', { signal })),
  })
}

const BROWSERS = [
  ['Edg', 'Edge'],
  ['Firefox', 'Firefox'],
  ['Chrom', 'Chromium'],
  ['Safari', 'Safari'],
] as const
const SYSTEMS = [
  ['Android', 'Android'],
  ['iPhone', 'iPhone'],
  ['iPad', 'iPad'],
  ['Windows', 'Windows'],
  ['Mac OS', 'macOS'],
  ['Linux', 'Linux'],
] as const

/** A browser and its system in words, as far as its own line tells; empty where it tells neither. */
export function browserName(agent: string): string {
  const find = (names: readonly (readonly [string, string])[]) =>
    names.find(([sign]) => agent.includes(sign))?.[1]
  return [find(BROWSERS), find(SYSTEMS)].filter(Boolean).join(', ')
}
