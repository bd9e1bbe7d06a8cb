import { expect, it } from 'vitest'
import { cellOf, changesOf, nameOf, pasted, typedOf, type TargetRow, type Targets } from './targets'

const months = ['2026-11-01', '2026-12-01', '2027-01-01']
const row = (of: Partial<TargetRow>): TargetRow => ({
  owner_id: null,
  team_id: null,
  group_id: null,
  person: '',
  team: '',
  group: '',
  targets: months.map((month) => ({ month, amount: null, version: 0, of_people: null })),
  ...of,
})
const three = row({ owner_id: 3, person: 'P3' })
const five = row({ owner_id: 5, person: 'P5' })
const team = row({ team_id: 3, team: 'T' })
const wire = row({ team_id: 3, group_id: 5, team: 'T', group: 'Wire' })
const known: Targets = { currency: 'EUR', months, rows: [three, five, team, wire], may_set: true }

it('a block of a sheet falls into its cells from where it is pasted, and no further', () => {
  const block = '1000\t2000\t3000\r\n\t4 000,50\n5\t6\n7\n8\n'
  const typed = pasted(known.rows, three, '2026-12-01', block)
  expect(typed).toEqual({
    [cellOf(three, '2026-12-01')]: '1000',
    [cellOf(three, '2027-01-01')]: '2000',
    [cellOf(five, '2026-12-01')]: '',
    [cellOf(five, '2027-01-01')]: '4 000,50',
    [cellOf(team, '2026-12-01')]: '5',
    [cellOf(team, '2027-01-01')]: '6',
    [cellOf(wire, '2026-12-01')]: '7',
  })
  const { rows, unread } = changesOf(known, typed)
  expect(unread).toBe(null)
  expect(rows.map((each) => [each.owner_id, each.team_id, each.group_id, each.amount])).toEqual([
    [3, null, null, '1000'],
    [3, null, null, '2000'],
    [5, null, null, '4000.5'],
    [null, 3, null, '5'],
    [null, 3, null, '6'],
    [null, 3, 5, '7'],
  ])
})

it('a person and a team of one key are two', () => {
  expect(new Set(known.rows.map((each) => cellOf(each, months[0]!))).size).toBe(4)
  expect(known.rows.map(nameOf)).toEqual(['P3', 'P5', 'T', 'T, Wire'])
})

it('one cell that is no amount is told, with all others read', () => {
  const typed = { [cellOf(three, '2026-11-01')]: 'much', [cellOf(five, '2026-11-01')]: '7' }
  const { rows, unread } = changesOf(known, typed)
  expect(unread).toEqual({ row: three, month: '2026-11-01' })
  expect(rows).toHaveLength(1)
})

it('what a file says stands in its cells as if it were typed', () => {
  const { owner_id, team_id, group_id } = wire
  const told = [{ owner_id, team_id, group_id, month: months[1]!, amount: '1234.50' }]
  const { rows } = changesOf(known, typedOf(told))
  expect(rows).toMatchObject([{ team_id: 3, group_id: 5, month: '2026-12-01', amount: '1234.5' }])
})

it('send what differs, with the version that was seen; an emptied cell takes its target away', () => {
  const cells = { '2026-12-01': ['40000.00', 3], '2027-01-01': [null, 0] } as const
  const targets = Object.entries(cells).map(([month, [amount, version]]) => {
    return { month, amount, version, of_people: null }
  })
  const seen = { ...known, rows: [row({ owner_id: 7, person: 'Ilse', targets })] }
  const december = cellOf(seen.rows[0]!, '2026-12-01')
  const january = cellOf(seen.rows[0]!, '2027-01-01')
  expect(changesOf(seen, { [december]: '40 000', [january]: '' }).rows).toEqual([])
  expect(changesOf(seen, { [december]: '45 000', [january]: '30 000' }).rows).toMatchObject([
    { owner_id: 7, month: '2026-12-01', amount: '45000', version: 3 },
    { owner_id: 7, month: '2027-01-01', amount: '30000', version: 0 },
  ])
  for (const text of ['', ' ', '0'])
    expect(changesOf(seen, { [december]: text }).rows[0]?.amount).toBeNull()
  expect(changesOf(seen, { [december]: '40,000' }).unread?.month).toBe('2026-12-01')
})
