import { describe, expect, it } from 'vitest'
import type { Shapes } from '@/api/client'
import { asItIs, lineOf, looked, pastedRow, readAs, ready, withItem } from './pastedRows'

const ITEM = { id: 1, code: 'POS', name: 'Post', sales_unit: 'H87', base_unit: 'H87', units: [] }
const OTHER = { ...ITEM, id: 2, code: 'WIR', name: 'Wire', sales_unit: 'RL' }
const found = (change = {}) =>
  pastedRow({
    ...{ row: 1, words: 'POS', item: ITEM, candidates: [ITEM, OTHER], quantity: '20', unit: 'H87' },
    ...{ price: null, doubts: [], others: [], ...change },
  } as unknown as Shapes['MatchOut'])

describe('a pasted row', () => {
  it('is added only once nothing of it is in doubt', () => {
    for (const doubt of ['item', 'quantity', 'unit', 'price']) {
      const row = found({ doubts: [doubt] })
      expect(ready(row), doubt).toBe(false)
      expect(ready(looked(row, doubt)), doubt).toBe(true)
    }
    expect(ready(asItIs(found({ doubts: ['unit', 'price'] })))).toBe(true)
  })
  it('without an item or a quantity is not added, whatever is said to it', () => {
    expect(ready(asItIs(found({ item: null })))).toBe(false)
    expect(ready(asItIs(found({ quantity: 'many' })))).toBe(false)
    expect(ready(withItem(found({ item: null, doubts: ['item'] }), 2))).toBe(true)
  })
  it('read otherwise takes the figures of that reading, and back', () => {
    const others = [{ words: 'POS', item: ITEM, quantity: '20.41', unit: 'H87', price: '50', why: 'decimal_comma' }] // prettier-ignore
    const row = found({ doubts: ['quantity', 'price'], others, price: '41.50' })
    const other = readAs(row, 0)
    expect([other.quantity, other.price, other.doubts]).toEqual(['20.41', '50', []])
    const back = readAs(other, -1)
    expect([back.quantity, back.price, back.doubts]).toEqual(['20', '41.50', []])
  })
  it('with a price makes a line whose price was agreed by hand, and says so', () => {
    expect(lineOf(found({ price: '8.90' }))).toMatchObject({
      price: '8.90',
      price_reason: 'from the pasted rows',
      quantity: '20',
    })
  })
})
