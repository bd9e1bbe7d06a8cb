import { describe, expect, it } from 'vitest'
import { inWords, plainRule, ruleOf, typedOf, type Rule } from './repeat'

const RULES: [Rule, string][] = [
  [
    { every: 'month', interval: 1, turn: 1, weekdays: [0], months: [3, 4, 5] },
    'on the first Monday of the month, in Mar, Apr, May',
  ],
  [
    { every: 'month', interval: 2, turn: -1, weekdays: [4], months: [] },
    'on the last Friday of every 2 months',
  ],
  [{ every: 'week', interval: 1, weekdays: [1, 3], months: [] }, 'every Tuesday, Thursday'],
  [{ every: 'week', interval: 2, weekdays: [0], months: [] }, 'every 2 weeks on Monday'],
  [
    { every: 'month', interval: 1, month_day: 15, weekdays: [], months: [] },
    'on the 15 of the month',
  ],
  [
    { every: 'month', interval: 1, month_day: -1, weekdays: [], months: [] },
    'on the last day of the month',
  ],
]

describe('a rule for days', () => {
  it.each(RULES)('%j is typed, sent as it was, and said', (rule, words) => {
    expect(ruleOf(typedOf(rule))).toEqual(rule)
    expect(inWords(rule)).toBe(words)
  })
  it('sends nothing of the fields that do not count', () => {
    const typed = { ...plainRule(), weekdays: [4, 1], months: [12, 1], monthDay: 9 }
    expect(ruleOf({ ...typed, every: 'week' })).toEqual({
      every: 'week',
      interval: 1,
      weekdays: [1, 4],
      months: [],
    })
    const monthly = ruleOf({ ...typed, turn: 'day' })
    expect(monthly).toEqual({
      every: 'month',
      interval: 1,
      weekdays: [],
      months: [1, 12],
      month_day: 9,
    })
  })
})
