import { describe, expect, it } from 'vitest'
import { byDay, nameOf, peopleOf, stateOf, type Happened } from './happened'

const row = (kind: string, more: Partial<Happened> = {}): Happened =>
  ({ kind, id: 1, day: '2026-12-01', title: '', state: '', who: '', whom: '', ...more }) as Happened

describe('what happened', () => {
  it('stands by days, in the order in which it came', () => {
    const rows = [
      row('mail', { id: 3 }),
      row('call', { id: 2 }),
      row('note', { day: '2026-11-30' }),
    ]
    expect(byDay(rows).map(({ day, rows }) => [day, rows.length])).toEqual([
      ['2026-12-01', 2],
      ['2026-11-30', 1],
    ])
  })

  it('names who let whom know', () => {
    expect(peopleOf(row('mail', { who: 'Ilse', whom: 'Maren' }))).toBe('Ilse to Maren')
    expect(peopleOf(row('arrived', { who: 'Maren' }))).toBe('Maren')
  })

  it('names a document by its number and where it stands, a mail only where it went wrong', () => {
    expect(nameOf(row('invoice', { title: 'INV-7' }))).toBe('Invoice INV-7')
    expect(stateOf(row('invoice', { state: 'part_paid' }))).toBe('Part paid')
    expect(nameOf(row('mail'))).toBe('Mail from us')
    expect(stateOf(row('mail', { state: 'sent' }))).toBe('')
    expect(stateOf(row('mail', { state: 'bounced' }))).not.toBe('')
  })
})
