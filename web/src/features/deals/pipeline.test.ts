import { expect, test } from 'vitest'
import { asSent, linesOf, moved, type StageLine } from './pipeline'

const line = (name: string, id: number | null = 1): StageLine => ({
  ...{ id, name, percent: '12,5', asks: '' as const },
  retired: false,
})

test('a line moves one place and stops at the ends', () => {
  const [a, b, c] = [line('a'), line('b'), line('c')]
  const names = (lines: StageLine[]) => lines.map(({ name }) => name).join('')
  expect(names(moved([a, b, c], a, 1))).toBe('bac')
  expect(names(moved([a, b, c], c, -1))).toBe('acb')
  expect(names(moved([a, b, c], a, -1))).toBe('abc')
  expect(names(moved([a, b, c], c, 1))).toBe('abc')
})

test('a new line that was left empty is not sent, a known one that was emptied is', () => {
  const sent = asSent({ stages: [line('', null), line('', 4), line('x', null)], reasons: [] })
  expect(sent.stages.map(({ id, name }) => [id, name])).toEqual([[4, ''], [null, 'x']]) // prettier-ignore
})

test('a percent is read with a comma too', () => {
  expect(asSent({ stages: [line('a')], reasons: [] }).stages[0]?.probability_percent).toBe('12.5')
})

test('stages that close a deal are no lines', () => {
  const stage = (id: number, outcome: 'open' | 'won') => ({
    ...{ id, outcome, code: `s${id}`, name: `S${id}`, probability_percent: '10' },
    ...{ asks: '', retired: false },
  })
  const told = { stages: [stage(1, 'open'), stage(2, 'won')], reasons: [], seen: '' }
  expect(linesOf(told).stages.map(({ id }) => id)).toEqual([1])
})
