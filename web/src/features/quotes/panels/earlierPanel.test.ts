import { beforeEach, describe, expect, it } from 'vitest'
import { Fault } from '@/api/fault'
import { serve, show, shown } from '@/test/server'
import EarlierPanel from './EarlierPanel.vue'

let broken: string
const QUOTE = { revision_id: 7, number: 'Q-26-0031', letter: 'B', customer: 'Fellgate', net: '89' }
const LINE = { key: 'a', kind: 'normal', text: 'Post 250', quantity: '10', unit: 'H87' }
const PROPS = { customer: 3, revision: 9, units: { H87: 'piece' } }

beforeEach(() => {
  broken = ''
  serve((path) => {
    if (broken && path.startsWith(broken)) return new Fault(500, 'unknown', '')
    if (path.startsWith('/api/quotes')) return { rows: [QUOTE], pages: 1, count: 1, sums: {} }
    return { id: 7, lines: [LINE], priced: { lines: [{ id: 'a', net: '89.00' }] } }
  })
})
const lines = (panel: ReturnType<typeof show>['wrapper']) =>
  panel.findAll('tbody tr').map((row) => row.text())

describe('lines from an earlier quote', () => {
  it('are there and ticked at the first opening and at the second, when all is known', async () => {
    const first = show(EarlierPanel, PROPS)
    const { client } = first
    await shown()
    expect(lines(first.wrapper)).toEqual([expect.stringContaining('Post 250')])
    first.wrapper.unmount()
    // Both are asked again, and neither answers.
    const asked = serve(() => new Promise(() => undefined))
    const { wrapper } = show(EarlierPanel, PROPS, { client })
    await shown()
    expect(asked).toHaveLength(2)
    expect(lines(wrapper)).toEqual([expect.stringContaining('Post 250')])
    const box = wrapper.get<HTMLInputElement>('tbody input').element
    expect([box.checked, wrapper.get('button[type=submit]').text()]).toEqual([true, 'Add 1 line'])
  })
  it.each(['/api/quotes', '/api/revisions'])('say that %s failed, and try again', async (path) => {
    broken = path
    const { wrapper } = show(EarlierPanel, PROPS)
    await shown()
    expect(wrapper.find('[role=alert]').exists()).toBe(true)
    expect(wrapper.text()).not.toMatch(/No (earlier|lines)/)
    broken = ''
    await wrapper.get('[role=alert] button').trigger('click')
    await shown()
    expect(lines(wrapper)).toHaveLength(1)
  })
})
