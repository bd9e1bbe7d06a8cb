/** The Timetable's columns: what is past, the next weeks, the months after, later. */
import { addDays, addMonths, day, monthName, weekday } from '@/kit/format/format'
import { t } from '@/words'

export interface Column {
  key: string
  name: string
  kind: 'past' | 'now' | 'week' | 'month' | 'later'
  /** First and last day, ISO, inclusive. */
  from: string
  to: string
  /** The day a deal gets that is dropped here. */
  middle: string
}

const WEEKS = 5

/** Past, five weeks from this one's Monday, what is left of that month, two months, later. */
export function makeColumns(today: string): Column[] {
  const monday = addDays(today, -weekday(today))
  const columns: Column[] = [
    {
      key: 'past',
      name: t('board.columns.past'),
      kind: 'past',
      from: '0000',
      to: addDays(today, -1),
      middle: '',
    },
  ]
  for (let n = 0; n < WEEKS; n++) {
    const start = addDays(monday, 7 * n)
    const from = n === 0 ? today : start
    const middle = n === 0 ? later(today, addDays(start, 4)) : addDays(start, 3)
    columns.push({
      key: `w${n}`,
      name: day(start),
      kind: n === 0 ? 'now' : 'week',
      from,
      to: addDays(start, 6),
      middle,
    })
  }
  let from = addDays(monday, 7 * WEEKS)
  for (let n = 0; n < 2; n++) {
    const last = addDays(addMonths(`${from.slice(0, 7)}-01`, 1), -1)
    columns.push({
      key: `m${n}`,
      name: monthName(Number(from.slice(5, 7)), 'long'),
      kind: 'month',
      from,
      to: last,
      middle: later(from, `${from.slice(0, 7)}-15`),
    })
    from = addDays(last, 1)
  }
  columns.push({
    key: 'later',
    name: t('board.columns.later'),
    kind: 'later',
    from,
    to: '9999',
    middle: addDays(from, 14),
  })
  return columns
}

function later(one: string, other: string): string {
  return one > other ? one : other
}

/** The column a day falls into. */
export function columnOf(columns: Column[], day: string): Column | undefined {
  return columns.find((column) => column.from <= day && day <= column.to)
}
