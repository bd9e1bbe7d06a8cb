import { expect, test } from 'vitest'
import { backOf, changesOf, wished } from './many'
import type { DealRow } from './queries'

const row = (id: number, decision_on: string, version = 1) =>
  ({ id, version, decision_on, stage: 'talking', owner_id: 4 }) as DealRow
const TODAY = '2026-11-28'

test('days shift each deal by as much, and never into the past', () => {
  const rows = [row(1, '2026-12-30'), row(2, '2026-12-02')]
  const days = changesOf(rows, { stage: null, owner: null, shift: -10 }, TODAY)
  expect(days.map(({ decision_on }) => decision_on)).toEqual(['2026-12-20', TODAY])
  expect(days[0]).toMatchObject({ stage: null, owner_id: null })
})

test('nothing wished changes nothing', () => {
  const wish = { stage: null, owner: null, shift: 0 }
  expect(wished(wish)).toBe(false)
  expect(changesOf([row(1, '2026-12-30')], wish, TODAY)[0]?.decision_on).toBeNull()
})

test('taken back, each deal has what it had, of what was changed alone', () => {
  const before = [row(1, '2026-12-30'), row(2, '2026-12-02')]
  const now = [row(1, '2027-01-09', 2)] // the other one is somebody else's now
  const back = backOf(before, now, { stage: 'quoted', owner: null, shift: 10 })
  expect(back).toEqual([
    { id: 1, version: 2, stage: 'talking', owner_id: null, decision_on: '2026-12-30' },
  ])
})
