import { describe, expect, it } from 'vitest'
import { Fault } from '@/api/fault'
import { staleSince } from '@/kit/act/connection'
import { askAgain, makeQueryClient } from './queryClient'

describe('a question', () => {
  it('is asked again where nothing answered or the server was unwell, never where it refused', () => {
    expect(askAgain(0, new Fault(0, 'offline', ''))).toBe(true)
    expect(askAgain(1, new Fault(503, 'busy', ''))).toBe(true)
    expect(askAgain(2, new Fault(503, 'busy', ''))).toBe(false)
    expect(askAgain(0, new Fault(404, 'not_found', ''))).toBe(false)
    expect(askAgain(0, new Fault(409, 'stale', ''))).toBe(false)
  })
  it('that fails behind shown figures marks them stale, until one is answered', async () => {
    const client = makeQueryClient()
    const ask = (queryFn: () => Promise<unknown>) =>
      client.fetchQuery({ queryKey: ['today'], queryFn, retry: false, staleTime: 0 })
    await ask(() => Promise.resolve({ due: 3 }))
    expect(staleSince.value).toBeNull()
    await ask(() => Promise.reject(new Fault(0, 'offline', ''))).catch(() => undefined)
    expect(staleSince.value).toBe(client.getQueryState(['today'])?.dataUpdatedAt)
    await ask(() => Promise.resolve({ due: 4 }))
    expect(staleSince.value).toBeNull()
  })
  it('that fails with nothing shown is told in its place, not as stale figures', async () => {
    const client = makeQueryClient()
    const asked = client.fetchQuery({
      queryKey: ['fresh'],
      queryFn: () => Promise.reject(new Fault(0, 'offline', '')),
      retry: false,
    })
    await asked.catch(() => undefined)
    expect(staleSince.value).toBeNull()
  })
})
