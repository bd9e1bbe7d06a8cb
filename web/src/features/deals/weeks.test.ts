import { describe, expect, it } from 'vitest'
import { columnOf, makeColumns } from './weeks'
import { addDays } from '@/kit/format/day'

describe('the Timetable’s columns', () => {
  it.each(['2026-11-26', '2026-12-31', '2027-01-01', '2028-02-28', '2026-03-29'])(
    'from %s cover every day once, without a gap',
    (today) => {
      const columns = makeColumns(today)
      let expected = today
      for (const column of columns.slice(1)) {
        expect(column.from, column.key).toBe(expected)
        expected = addDays(column.to === '9999' ? column.from : column.to, 1)
      }
      for (let n = -40; n < 200; n++) {
        const day = addDays(today, n)
        expect(columns.filter((c) => c.from <= day && day <= c.to)).toHaveLength(1)
      }
    },
  )
  it('give a dropped deal a day within them, never one that has gone by', () => {
    for (const today of ['2026-11-26', '2026-11-29', '2026-11-30']) {
      for (const column of makeColumns(today).slice(1)) {
        expect(columnOf(makeColumns(today), column.middle)?.key).toBe(column.key)
        expect(column.middle >= today).toBe(true)
      }
    }
  })
})
