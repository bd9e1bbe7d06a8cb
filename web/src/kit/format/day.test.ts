import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import {
  addDays,
  addMonths,
  clock,
  day,
  daysBetween,
  moment,
  monthOf,
  todayIso,
  useZone,
} from './day'
import { figure, isNothing, rough } from './number'
import { useFormat } from './person'
import { readDay } from './readDay'

const at = (iso: string) => vi.setSystemTime(new Date(iso))
beforeEach(() => {
  vi.useFakeTimers()
  at('2026-11-26T10:00:00Z')
  useZone('Europe/Vienna')
})
afterEach(() => {
  useFormat('house')
  useZone(undefined)
})

describe("the house's clock", () => {
  it.each([
    ['Pacific/Auckland', '2026-11-26T10:59:00Z', '2026-11-26', '23:59'],
    ['Pacific/Auckland', '2026-11-26T11:00:00Z', '2026-11-27', '00:00'],
    ['America/Los_Angeles', '2027-01-01T07:59:00Z', '2026-12-31', '23:59'],
    ['Europe/Vienna', '2026-12-31T23:30:00Z', '2027-01-01', '00:30'],
    ['Asia/Kathmandu', '2026-11-25T18:15:00Z', '2026-11-26', '00:00'],
  ])('in %s at %s: %s, %s', (zone, now, today, time) => {
    useZone(zone)
    at(now)
    expect([todayIso(), clock(now)]).toEqual([today, time])
  })
  it('does not stumble over the hour that is left out in spring, nor the one that comes twice', () => {
    expect(clock('2026-03-29T00:30:00Z')).toBe('01:30')
    expect(clock('2026-03-29T01:30:00Z')).toBe('03:30')
    expect([clock('2026-10-25T00:30:00Z'), clock('2026-10-25T01:30:00Z')]).toEqual([
      '02:30',
      '02:30',
    ])
  })
  it('steps by days and months over every border', () => {
    expect(addDays('2026-12-31', 1)).toBe('2027-01-01')
    expect(addDays('2026-03-28', 2)).toBe('2026-03-30')
    expect(addDays('2028-03-01', -1)).toBe('2028-02-29')
    expect(addMonths('2026-01-31', 1)).toBe('2026-02-28')
    expect(addMonths('2026-11-30', 3)).toBe('2027-02-28')
    expect(daysBetween('2026-03-28', '2026-03-30')).toBe(2)
  })
})

describe('in the format of a person', () => {
  it.each([
    ['house', '26 Nov', '1 Jan 2027', '1\u00a0234\u00a0567.50', '26 Nov, 15:00'],
    ['comma', '26.11.', '01.01.2027', '1.234.567,50', '26.11., 15:00'],
    ['point', '26/11', '01/01/2027', '1,234,567.50', '26/11, 15:00'],
    ['month', '11/26', '01/01/2027', '1,234,567.50', '11/26, 15:00'],
  ])('%s', (name, short, long, number, time) => {
    useFormat(name)
    expect([day('2026-11-26'), day('2027-01-01'), figure('1234567.50')]).toEqual([
      short,
      long,
      number,
    ])
    expect(moment('2026-11-26T14:00:00Z')).toBe(time)
  })
  it('an unknown one is the house’s', () => {
    useFormat('klingon')
    expect(figure('1234.5')).toBe('1\u00a0234.5')
  })
  it('says months in the language of the words', () => {
    expect(monthOf('2026-03')).toBe('March 2026')
  })
})

describe('a figure', () => {
  it('keeps its decimals, has a true minus, and is a dash where there is none', () => {
    expect([figure('-1200.50'), figure('0.385'), figure('1500'), figure(null), figure('')]).toEqual(
      ['−1\u00a0200.50', '0.385', '1\u00a0500', '—', '—'],
    )
    expect(rough('-1234.99')).toBe('−1\u00a0234')
  })
  it('leaves words as they are, even with points, hyphens and days in them', () => {
    const words = 'Freight 45.00, Packing 12.50'
    expect([figure(words), figure('re-paid on 2026-11-26'), figure('1.2.3')]).toEqual([
      words,
      're-paid on 2026-11-26',
      '1.2.3',
    ])
  })
  it('is nothing in every currency', () => {
    expect(['0', '0.00', '-0.00', '0.000', '', null].map(isNothing)).toEqual(Array(6).fill(true))
    expect(['0.01', '1', '-1'].map(isNothing)).toEqual([false, false, false])
  })
})

describe('a day as it is typed', () => {
  it.each([
    ['12.3.', '2027-03-12'],
    ['12.3', '2027-03-12'],
    ['26.11.', '2026-11-26'],
    ['27/11', '2026-11-27'],
    ['12.3.28', '2028-03-12'],
    ['12.03.2028', '2028-03-12'],
    ['2028-3-12', '2028-03-12'],
    ['12 mar', '2027-03-12'],
    ['12. March 2028', '2028-03-12'],
    ['29.2.', '2027-02-29'],
    ['+7', '2026-12-03'],
    ['+2w', '2026-12-10'],
    ['+1m', '2026-12-26'],
    ['-1', '2026-11-25'],
  ])('%s', (typed, iso) => {
    expect(readDay(typed)).toBe(iso === '2027-02-29' ? null : iso)
  })
  it.each(['', '31.2.2027', '32.1.', 'soon', '12.13.', '0.0.', '12', '1.1.1970'])(
    '%s is none',
    (typed) => {
      expect(readDay(typed)).toBeNull()
    },
  )
  it('behind us where the field looks back', () => {
    expect([readDay('12.3.', false), readDay('27.11.', false)]).toEqual([
      '2026-03-12',
      '2025-11-27',
    ])
  })
  it('month first where the person writes so, unless it has points', () => {
    useFormat('month')
    expect([readDay('3/12'), readDay('12.3.')]).toEqual(['2027-03-12', '2027-03-12'])
  })
})
