/** When an item is bought next, and why one thinks so, in words. */
import type { Shapes } from '@/api/client'
import { daysBetween, monthName, monthOf } from '@/kit/format/format'
import { t, tn } from '@/words'

type Habit = Shapes['HabitOut']
const WEEK = 7
/** From so many days on weeks are told, and from so many on months. */
const IN_WEEKS = 14
const IN_MONTHS = 75
const MONTH = 30.44

/** A span in the words that fit its length. */
export function spanOf(days: number): string {
  if (days < IN_WEEKS) return tn('regulars.days', days)
  if (days < IN_MONTHS) return tn('regulars.weeks', Math.round(days / WEEK))
  return tn('regulars.months', Math.round(days / MONTH))
}

/** The two lines of a row: when, and how often. */
export function nextTime(habit: Habit, today: string): { when: string; how: string } {
  return { when: whenOf(habit, today), how: howOf(habit) }
}

function whenOf(habit: Habit, today: string): string {
  const { state, due_on, season, last_on } = habit
  if (state === 'unknown') return t('regulars.unknown')
  if (state === 'stopped') {
    return t('regulars.stopped', { span: spanOf(daysBetween(last_on, today)) })
  }
  if (season) {
    if (state === 'due' || state === 'late') return t('regulars.inSeason')
    return t('regulars.from', { month: monthOf((due_on ?? today).slice(0, 7)) })
  }
  if (state === 'late') return t('regulars.late', { span: spanOf(habit.days_over) })
  if (state === 'due') return t('regulars.due')
  return t('regulars.dueIn', { span: spanOf(daysBetween(today, due_on ?? today)) })
}

function howOf({ season, cadence_days, purchases }: Habit): string {
  const times = tn('regulars.times', purchases)
  if (season) {
    const months = { from: monthName(3 * season - 2), to: monthName(3 * season) }
    return t('regulars.seasonal', { ...months, times })
  }
  return cadence_days ? t('regulars.every', { span: spanOf(cadence_days), times }) : times
}
