/** The days that the diary shows, and what stands on each. */
import type { Shapes } from '@/api/client'
import { addDays, weekday } from '@/kit/format/format'

export type Row = Shapes['DiaryRow']
export type Span = 'week' | 'day'

/** The first and the last day of a span that holds a day; weeks begin on Monday. */
export function spanOf(day: string, span: Span): { since: string; until: string } {
  if (span === 'day') return { since: day, until: day }
  const since = addDays(day, -weekday(day))
  return { since, until: addDays(since, 6) }
}

/** Each day of a span with its rows: those with a time first, in its order; what is done after what is to do. */
export function daysOf(since: string, until: string, rows: Row[]): { day: string; rows: Row[] }[] {
  const days: { day: string; rows: Row[] }[] = []
  for (let day = since; day <= until; day = addDays(day, 1)) {
    days.push({ day, rows: rows.filter((row) => row.day === day).sort(inTime) })
  }
  return days
}
function inTime(one: Row, other: Row): number {
  const byTime =
    Number(!one.starts) - Number(!other.starts) || one.starts.localeCompare(other.starts)
  return byTime || Number(isDone(one)) - Number(isDone(other)) || one.id - other.id
}
/** Whether it lies behind: a follow-up that is done, and all that was noted. */
export const isDone = (row: Row): boolean => row.kind !== 'follow_up' || row.done_at !== null
