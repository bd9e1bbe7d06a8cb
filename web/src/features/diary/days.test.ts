import { describe, expect, it } from 'vitest'
import { daysOf, isDone, spanOf, type Row } from './days'

const row = (id: number, day: string, more: Partial<Row> = {}): Row =>
  ({ id, day, kind: 'follow_up', done_at: null, starts: '', ...more }) as Row

describe('the days of the diary', () => {
  it('are a week from its Monday, also over the end of a year', () => {
    expect(spanOf('2026-12-31', 'week')).toEqual({ since: '2026-12-28', until: '2027-01-03' })
    expect(spanOf('2026-12-28', 'week').since).toBe('2026-12-28')
    expect(spanOf('2026-12-31', 'day')).toEqual({ since: '2026-12-31', until: '2026-12-31' })
  })

  it('stand there also where nothing is on them', () => {
    const days = daysOf('2026-12-28', '2027-01-03', [row(1, '2026-12-30')])
    expect(days.map(({ rows }) => rows.length)).toEqual([0, 0, 1, 0, 0, 0, 0])
  })

  it('begin with what has its hour, then what is to do, then what is done', () => {
    const rows = [
      row(1, '2026-12-30', { kind: 'call' }),
      row(2, '2026-12-30'),
      row(3, '2026-12-30', { starts: '14:00' }),
      row(4, '2026-12-30', { starts: '09:30', done_at: '2026-12-30T10:00:00Z' }),
      row(5, '2026-12-30', { done_at: '2026-12-30T10:00:00Z' }),
    ]
    const [day] = daysOf('2026-12-30', '2026-12-30', rows)
    expect(day!.rows.map(({ id }) => id)).toEqual([4, 3, 2, 1, 5])
    expect(rows.map(isDone)).toEqual([true, false, false, true, true])
  })
})
