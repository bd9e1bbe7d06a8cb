import { expect, it } from 'vitest'
import { serve, show, shown } from '@/test/server'
import OtherWays from './OtherWays.vue'

const part = { quantity: '20', leaves: '2026-12-01', arrives: '2026-12-03', sure: true }
const way = { kind: 'depot', parts: [part], last: '2026-12-03', depot_id: 2, item_id: null, name: 'Saltmarsh' } // prettier-ignore

it('what else could be done is that of the line alone, and another item is opened by its name', async () => {
  const asked = serve(() => ({
    lines: [
      { key: '6', proposals: [] },
      { key: '7', proposals: [way, { ...way, kind: 'instead', item_id: 40, name: 'Oak post' }] },
    ],
  }))
  const { wrapper } = show(OtherWays, { order: 3, line: 7, item: 12 })
  await shown()
  expect(asked).toEqual(['GET /api/orders/3/promises'])
  const ways = wrapper.findAll('li').map((each) => each.text())
  expect(ways[0]).toContain('From Saltmarsh')
  expect(ways[1]).toContain('Oak post instead')
  const goes = wrapper.findAll('a').map((each) => each.attributes('href'))
  expect(goes).toEqual(['/orders/3?line=7&depot=2#change', '/items/40', '/items/12'])
})
it('says so where there is nothing sooner, and offers to move a promise all the same', async () => {
  serve(() => ({ lines: [{ key: '7', proposals: [] }] }))
  const { wrapper } = show(OtherWays, { order: 3, line: 7, item: 12 })
  await shown()
  expect(wrapper.text()).toContain('Nothing sooner')
  expect(wrapper.findAll('a').map((each) => each.attributes('href'))).toEqual(['/items/12'])
})
