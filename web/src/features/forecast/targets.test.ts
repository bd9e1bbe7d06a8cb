import { expect, it } from 'vitest'
import { cellOf, changesOf, pasted, type Targets } from './targets'

const months = ['2026-11-01', '2026-12-01', '2027-01-01']
const person = (id: number) => ({
  id,
  name: `P${id}`,
  targets: months.map((month) => ({ month, amount: null, version: 0 })),
})
const known = { currency: 'EUR', months, people: [person(3), person(5)], may_set: true } as Targets

it('a block of a sheet falls into its cells from where it is pasted, and no further', () => {
  const typed = pasted(known, cellOf(3, '2026-12-01'), '1000\t2000\t3000\r\n\t4 000,50\n5\t6\n')
  expect(typed).toEqual({
    [cellOf(3, '2026-12-01')]: '1000',
    [cellOf(3, '2027-01-01')]: '2000',
    [cellOf(5, '2026-12-01')]: '',
    [cellOf(5, '2027-01-01')]: '4 000,50',
  })
  const { rows, unread } = changesOf(known, typed)
  expect(unread).toBe(null)
  expect(rows.map((row) => [row.owner_id, row.amount])).toEqual([
    [3, '1000'],
    [3, '2000'],
    [5, '4000.5'],
  ])
  expect(pasted(known, cellOf(9, '2026-12-01'), '1\t2')).toEqual({})
})

it('one cell that is no amount is told, with all others read', () => {
  const typed = { [cellOf(3, '2026-11-01')]: 'much', [cellOf(5, '2026-11-01')]: '7' }
  expect(changesOf(known, typed)).toMatchObject({ unread: cellOf(3, '2026-11-01') })
})
