import { expect, it } from 'vitest'
import type { Shapes } from '@/api/client'
import { emptyEach, isHalf, nothingStanding, typedStanding, wishOf } from './standing'

const row = {
  title: 'Posts',
  repetition: { every: 'month', interval: 1, turn: 1, weekdays: [0], months: [3] },
  begins: '2026-01-01',
  ends: null,
  notice_days: 3,
  buyer_reference: 'PO',
  delivery_address_id: 4,
  lines: [{ item_id: 7, quantity: '10', unit: 'H87', code: 'P', name: 'Post', unit_name: 'piece' }],
} as unknown as Shapes['StandingOrderOut']

it('what is read is sent as it was, where nobody typed', () => {
  expect(wishOf(typedStanding(row))).toEqual({
    title: 'Posts',
    repetition: { every: 'month', interval: 1, turn: 1, weekdays: [0], months: [3] },
    begins: '2026-01-01',
    ends: null,
    notice_days: 3,
    buyer_reference: 'PO',
    delivery_address_id: 4,
    lines: [{ item_id: 7, quantity: '10', unit: 'H87' }],
  })
})
it('a line that would be lost is told apart from one that is empty', () => {
  const empty = emptyEach([])
  const lines = [empty, { ...empty, item_id: 3 }, { ...empty, quantity: '2' }]
  expect([...lines, { ...empty, item_id: 3, quantity: '2' }].map(isHalf)).toEqual([
    false,
    true,
    true,
    false,
  ])
})
it('a line without an item or a quantity is not sent', () => {
  const typed = nothingStanding()
  typed.lines.push({ ...emptyEach(typed.lines), item_id: 3 })
  typed.lines.push({ ...emptyEach(typed.lines), item_id: 3, quantity: '2', unit: 'H87' })
  expect(wishOf(typed).lines).toEqual([{ item_id: 3, quantity: '2', unit: 'H87' }])
  expect(new Set(typed.lines.map((line) => line.key)).size).toBe(3)
})
