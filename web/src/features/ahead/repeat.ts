/** A rule for days: as it is typed, as it is sent, and in words. */
import type { Shapes } from '@/api/client'
import { monthName, weekdayName } from '@/kit/format/format'
import { t, tn } from '@/words'

export type Rule = Shapes['RepetitionIn']
/** Which weekday of a month, or a day of it. */
export type Turn = 1 | 2 | 3 | 4 | -1 | 'day'
export const TURNS: Turn[] = [1, 2, 3, 4, -1, 'day']
const TURN_WORDS = {
  1: 'ahead.repeat.turns.first',
  2: 'ahead.repeat.turns.second',
  3: 'ahead.repeat.turns.third',
  4: 'ahead.repeat.turns.fourth',
  [-1]: 'ahead.repeat.turns.last',
  day: 'ahead.repeat.turns.day',
} as const
export const LAST_DAY = -1

/** A rule as its fields hold it: all of them, whichever count. */
export interface TypedRule {
  every: 'week' | 'month'
  interval: number
  weekdays: number[]
  turn: Turn
  weekday: number
  monthDay: number
  months: number[]
}
export const plainRule = (): TypedRule => ({
  every: 'month',
  interval: 1,
  weekdays: [0],
  turn: 1,
  weekday: 0,
  monthDay: 1,
  months: [],
})

export function typedOf(rule: Rule): TypedRule {
  const plain = plainRule()
  return {
    every: rule.every === 'week' ? 'week' : 'month',
    interval: rule.interval ?? 1,
    weekdays: rule.every === 'week' ? [...(rule.weekdays ?? [])] : plain.weekdays,
    turn: rule.every === 'month' && rule.month_day ? 'day' : ((rule.turn ?? 1) as Turn),
    weekday: rule.every === 'month' ? (rule.weekdays?.[0] ?? 0) : plain.weekday,
    monthDay: rule.month_day ?? plain.monthDay,
    months: [...(rule.months ?? [])],
  }
}

/** What is sent: the fields that count alone. */
export function ruleOf(typed: TypedRule): Rule {
  const { every, interval, turn } = typed
  if (every === 'week') return { every, interval, weekdays: sorted(typed.weekdays), months: [] }
  const months = sorted(typed.months)
  return turn === 'day'
    ? { every, interval, weekdays: [], months, month_day: typed.monthDay }
    : { every, interval, weekdays: [typed.weekday], months, turn }
}
const sorted = (values: number[]) => [...values].sort((one, other) => one - other)

export const turnName = (turn: Turn) => t(TURN_WORDS[turn])

/** The rule as one says it. */
export function inWords(rule: Rule): string {
  const n = rule.interval ?? 1
  const told = saidOf(rule, n)
  const months = (rule.months ?? []).map((month) => monthName(month)).join(', ')
  return months ? t('ahead.repeat.words.months', { rule: told, months }) : told
}
function saidOf(rule: Rule, n: number): string {
  const weekdays = (rule.weekdays ?? []).map((each) => weekdayName(each)).join(', ')
  if (rule.every === 'week') return tn('ahead.repeat.words.week', n, { weekdays })
  if (rule.month_day === LAST_DAY) return tn('ahead.repeat.words.monthEnd', n)
  if (rule.month_day) return tn('ahead.repeat.words.monthDay', n, { day: rule.month_day })
  const turn = turnName((rule.turn ?? 1) as Turn)
  return tn('ahead.repeat.words.weekday', n, { turn, weekday: weekdays })
}
