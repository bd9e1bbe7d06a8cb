import { expect, it } from 'vitest'
import { lackOf, planOf } from './plan'

const row = (on: string | null, quantity: string) => ({ key: 0, on, quantity })

it('a day without its quantity, or a quantity without its day, is asked about and never dropped', () => {
  const rows = [row('2026-12-01', '40'), row('2027-01-04', ''), row(null, '5'), row(null, '')]
  expect(rows.map(lackOf)).toEqual([null, 'quantity', 'day', null])
  expect(planOf(rows)).toBe(null)
  expect(planOf([rows[0]!, rows[3]!])).toEqual([{ on: '2026-12-01', quantity: '40' }])
  expect(planOf([rows[3]!])).toEqual([])
})
