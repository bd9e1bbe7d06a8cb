import { beforeEach, describe, expect, it, vi } from 'vitest'
import { Fault } from '@/api/fault'
import { serve, show, shown } from '@/test/server'
import AccountPage from './AccountPage.vue'
import { browserName } from './queries'

let asked: string[]
let bodies: unknown[]
let refusal: Fault | undefined
const VISIT = { address: '127.0.0.1', stays: false, since: '2026-11-26T08:00:00Z' }
let visits: object[]
beforeEach(() => {
  bodies = []
  refusal = undefined
  visits = [
    {
      ...VISIT,
      id: 1,
      agent: 'Mozilla/5.0 (X11; Linux) Chrome/150',
      seen: VISIT.since,
      this: true,
    },
    { ...VISIT, id: 2, agent: 'Mozilla/5.0 (iPhone) Safari/605', seen: VISIT.since, this: false },
  ]
  asked = serve(async (path, request) => {
    if (path === '/api/mailboxes') return { rows: [], servers: [], may_share: false }
    if (path.startsWith('/api/session/visits') && request.method === 'GET') return visits
    if (request.method === 'GET') return []
    if (path.endsWith('/password')) bodies.push(await request.json())
    if (request.method === 'DELETE') visits = visits.slice(0, 1)
    return refusal ?? {}
  })
})
async function open() {
  const { wrapper } = show(AccountPage)
  await shown()
  const fill = (name: string, text: string) => wrapper.get(`input[name=${name}]`).setValue(text)
  const send = async () => {
    await wrapper.get('form').trigger('submit')
    await shown()
  }
  return { wrapper, fill, send }
}

describe('one’s account', () => {
  it('changes the password only where the new one was typed twice alike', async () => {
    const { wrapper, fill, send } = await open()
    await fill('old', 'orchard-demo')
    await fill('new', 'a-good-pass-phrase')
    await fill('again', 'a-good-pass-phrasf')
    await send()
    await vi.waitUntil(() => wrapper.text().includes('The two are not the same.'))
    expect(bodies).toEqual([])
    await fill('again', 'a-good-pass-phrase')
    await send()
    await vi.waitUntil(() => bodies.length)
    expect(bodies).toEqual([{ old: 'orchard-demo', new: 'a-good-pass-phrase' }])
    const old = wrapper.get<HTMLInputElement>('input[name=old]')
    await vi.waitUntil(() => old.element.value === '')
  })
  it('tells where one is signed in, and ends a visit that is not this one', async () => {
    const { wrapper } = await open()
    await vi.waitUntil(() => wrapper.findAll('li').length)
    const rows = wrapper.findAll('li')
    expect(rows.map((row) => row.get('b').text())).toEqual(['Chromium, Linux', 'Safari, iPhone'])
    expect([rows[0]!.find('button').exists(), rows[1]!.find('button').exists()]).toEqual([
      false,
      true,
    ])
    await rows[1]!.get('button').trigger('click')
    await vi.waitUntil(() => wrapper.findAll('li').length === 1)
    expect(asked).toContain('DELETE /api/session/visits/2')
  })
  it('names a browser as far as it can be told', () => {
    expect(browserName('curl/8')).toBe('')
    expect(browserName('Mozilla/5.0 (Windows NT 10.0) Gecko Firefox/140')).toBe('Firefox, Windows')
  })
})
