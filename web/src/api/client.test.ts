import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { api, take } from './client'

const sent: { path: string; key: string | null }[] = []
/** What comes of the next requests: a status, or no answer. */
let fates: (number | 'lost')[] = []
function answer(request: Request): Promise<Response> {
  const { pathname } = new URL(request.url)
  sent.push({ path: pathname, key: request.headers.get('Idempotency-Key') })
  const fate = fates.shift() ?? 201
  if (fate === 'lost') return Promise.reject(new TypeError('lost'))
  const body = JSON.stringify(fate < 400 ? { id: 1 } : { code: 'busy', message: '' })
  const headers = { 'Content-Type': 'application/json' }
  return Promise.resolve(new Response(body, { status: fate, headers }))
}
const start = (customer_id: number) => take(api.POST('/api/quotes', { body: { customer_id } }))
const tried = (customer_id: number) => start(customer_id).catch(() => undefined)
const keys = () => sent.map((each) => each.key)

beforeEach(() => void vi.stubGlobal('fetch', answer))
afterEach(() => {
  sent.length = 0
  fates = []
})

describe('what makes something', () => {
  it('keeps its key until an answer was heard', async () => {
    fates = ['lost', 503, 201, 201]
    for (let n = 0; n < 4; n++) await tried(7)
    const [lost, busy, made, next] = keys()
    expect(lost).toMatch(/^[0-9a-f-]{36}$/)
    expect([busy, made]).toEqual([lost, lost])
    expect(next).not.toBe(lost)
  })
  it('of other content has a key of its own', async () => {
    fates = ['lost', 'lost']
    await tried(7)
    await tried(8)
    expect(new Set(keys()).size).toBe(2)
  })
  it('that was refused is another request the next time', async () => {
    fates = [422, 201]
    await tried(9)
    await tried(9)
    expect(new Set(keys()).size).toBe(2)
  })
  it('is a write: what reads has no key, and a password is remembered nowhere', async () => {
    await take(api.GET('/api/stages')).catch(() => undefined)
    const body = { username: 'ilse', password: 'typed', stay: false }
    await take(api.POST('/api/session', { body })).catch(() => undefined)
    expect(keys()).toEqual([null, null])
  })
})
