import { describe, expect, it } from 'vitest'
import type { Shapes } from '@/api/client'
import { nextTime, spanOf } from './nextTime'

const TODAY = '2026-11-27'
const habit = (more: Partial<Shapes['HabitOut']>): Shapes['HabitOut'] => ({
  state: 'not_yet',
  purchases: 6,
  last_on: '2026-10-01',
  last_quantity: '12',
  cadence_days: 49,
  due_on: '2026-11-19',
  season: null,
  days_over: 8,
  ...more,
})

describe('when an item is bought next', () => {
  it.each([
    [1, '1 day'],
    [13, '13 days'],
    [14, '2 weeks'],
    [74, '11 weeks'],
    [250, '8 months'],
  ])('%i days are told as %s', (days, words) => expect(spanOf(days)).toBe(words))

  it.each<[Partial<Shapes['HabitOut']>, string]>([
    [{ state: 'due' }, 'due now'],
    [{ state: 'late', days_over: 30 }, '4 weeks late'],
    [{ state: 'not_yet', due_on: '2026-12-11' }, 'due in 2 weeks'],
    [{ state: 'stopped', last_on: '2026-03-20' }, 'none for 8 months'],
    [{ state: 'unknown', cadence_days: null, due_on: null }, 'no habit yet'],
    [{ state: 'out_of_season', season: 2, due_on: '2027-04-01' }, 'from April 2027'],
    [{ state: 'late', season: 4, due_on: '2026-10-01' }, 'usually now'],
  ])('%o', (more, words) => expect(nextTime(habit(more), TODAY).when).toBe(words))

  it('says by how many purchases it was reached', () => {
    expect(nextTime(habit({}), TODAY).how).toBe('every 7 weeks, 6 times')
    expect(nextTime(habit({ season: 2 }), TODAY).how).toBe('Apr to Jun, 6 times')
    expect(nextTime(habit({ cadence_days: null, purchases: 1 }), TODAY).how).toBe('once')
  })
})
