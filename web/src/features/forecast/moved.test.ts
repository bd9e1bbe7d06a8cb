import { expect, test } from 'vitest'
import { signed } from './causes'
import { lineOf, type Moved } from './moved'

const moved = (start: string, ...steps: [cause: string, amount: string][]): Moved => ({
  currency: 'EUR',
  since_at: '2026-11-21T00:05:00Z',
  until_at: null,
  start,
  end: '0.00',
  steps: steps.map(([cause, amount]) => ({ cause, amount, count: 1, deals: [], others: null })),
})

test('each step begins where the one before ended', () => {
  const { start, risers, end } = lineOf(moved('100.00', ['new', '50.00'], ['won', '-120.00']))
  expect(risers[0]?.from).toBe(start.y)
  expect(risers[1]?.from).toBe(risers[0]?.to)
  expect(end.y).toBe(risers[1]?.to)
  expect(risers.map(({ up }) => up)).toEqual([true, false])
})

test('more is higher, at one scale', () => {
  const { start, risers } = lineOf(moved('0.00', ['new', '40.00'], ['grew', '40.00']))
  const [one, two] = risers
  expect(one!.from - one!.to).toBeCloseTo(two!.from - two!.to)
  expect(one!.to).toBeLessThan(start.y)
})

test('nothing that moved is a level line', () => {
  const { start, end, risers } = lineOf(moved('10.00'))
  expect(risers).toEqual([])
  expect(start.y).toBe(end.y)
})

test('the names below stand in columns of the same width', () => {
  const { start, end, risers, step } = lineOf(moved('1.00', ['new', '1.00'], ['won', '-1.00']))
  expect([start.x, ...risers.map(({ x }) => x), end.x]).toEqual([0, 1, 2, 3].map((n) => (n + 0.5) * step)) // prettier-ignore
})

test('an amount that is added has its sign', () => {
  expect(signed('14.00')).toBe('+14.00')
  expect(signed('-2.50')).not.toContain('+')
})
