import { beforeEach, describe, expect, it } from 'vitest'
import { serve, show, shown } from '@/test/server'
import SyncPage from './SyncPage.vue'

const feed = (name: string, more: object = {}) => ({
  ...{ name, position: 40, last: 40, read_at: '2026-11-27T07:00:00Z', problem: '' },
  ...{ failing_since: null, resync_from: null, ...more },
})
const kind = (name: string, anew: number | null = null) => ({
  ...{ kind: name, count: 12, oldest: null, newest: null, anew },
})
let told: Record<string, unknown>
let bodies: unknown[]
let page: ReturnType<typeof show>['wrapper']

async function open(): Promise<void> {
  page = show(SyncPage).wrapper
  await shown()
}
beforeEach(() => {
  bodies = []
  told = { feeds: [feed('events'), feed('changes')], kinds: [], asides: [], aside_count: 0 }
  serve(async (path, request) => {
    if (request.method === 'POST') bodies.push([path, await request.json()])
    return told
  })
})
const button = (name: string) => page.get(`button[aria-label="${name}"]`)

describe('what the back office tells', () => {
  it('one kind is asked for anew, and shows how far it has come', async () => {
    told.kinds = [kind('stock'), kind('invoice')]
    await open()
    told.kinds = [kind('stock', 40), kind('invoice')]
    await button('Ask for the stock anew').trigger('click')
    await shown()
    expect(bodies).toEqual([['/api/sync/resync', { kind: 'stock' }]])
    expect(page.get('[role=progressbar]').attributes('aria-valuenow')).toBe('40')
    expect(page.find('button[aria-label="Ask for the stock anew"]').exists()).toBe(false)
    expect(button('Ask for the invoices anew').text()).toBe('Ask anew')
  })
  it('says which feed does not come, and which is behind', async () => {
    told.feeds = [feed('events', { problem: 'away' }), feed('changes', { last: 90 })]
    await open()
    const rows = page.findAll('tbody tr').map((row) => row.text())
    expect(rows[0]).not.toContain('up to date')
    expect(rows[1]).toContain('more is coming')
    expect(rows[1]).toContain('40 of 90')
  })
  it('a change that was set aside is shown as it came, tried again and let go by its version', async () => {
    const reason = { code: 'change', message: 'no such item', path: '', facts: { what: 'x' } }
    told.asides = [
      { id: 9, version: 3, kind: 'stock', ref: 'POS-1@NORTH', received_at: '2026-11-27T07:00:00Z', reason, raw: '{"odd": 1}' }, // prettier-ignore
    ]
    await open()
    expect(page.text()).toContain('POS-1@NORTH')
    await page.get('button[aria-expanded]').trigger('click')
    expect(page.get('pre').text()).toBe('{"odd": 1}')
    for (const name of ['Try again', 'Let it go']) {
      const found = page.findAll('button').find((each) => each.text() === name)
      await found!.trigger('click')
      await shown()
    }
    expect(bodies).toEqual([
      ['/api/sync/asides/9/again', { version: 3 }],
      ['/api/sync/asides/9/let-go', { version: 3 }],
    ])
  })
})
