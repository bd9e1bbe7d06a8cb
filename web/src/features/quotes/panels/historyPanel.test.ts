import { expect, it } from 'vitest'
import { serve, show, shown } from '@/test/server'
import HistoryPanel from './HistoryPanel.vue'

it('the history of a quote tells figures, days and free text as they were written', async () => {
  const row = { at: '2026-11-20T09:12:00Z', who: 'Ilse Marten', reason: '' }
  serve(() => [
    { ...row, field: 'Charges', before: '', after: 'Freight 45.00, Packing 12.50' },
    { ...row, field: 'Valid until', before: '2026-11-30', after: '2026-12-15' },
    { ...row, field: 'Message', before: 'as-agreed', after: '-', reason: 'half-price 1.50' },
  ])
  const { wrapper } = show(HistoryPanel, { quote: 4, number: 'Q-26-0004' })
  await shown()
  const cells = wrapper.findAll('tbody tr').map((tr) => tr.findAll('td').map((td) => td.text()))
  expect(cells.map((row) => [row[2], row[3], row[5]])).toEqual([
    ['Charges', '—', 'Freight 45.00, Packing 12.50'],
    ['Valid until', '2026-11-30', '2026-12-15'],
    ['Message', 'as-agreed', '- half-price 1.50'],
  ])
})
