/** Days and times as the house's clock tells them, wherever the browser stands. */
import { i18n } from '@/words'
import { format } from './person'

let zone: string | undefined
let houseClock = clockOf(undefined)

function clockOf(timeZone: string | undefined): Intl.DateTimeFormat {
  return new Intl.DateTimeFormat('sv-SE', { timeZone, dateStyle: 'short', timeStyle: 'medium' })
}
export function useZone(name: string | undefined): void {
  zone = name
  houseClock = clockOf(zone)
}

/** A moment's day and time in the house, as ISO text without a zone: "2026-11-26 14:05:00". */
function inHouse(moment: Date): string {
  return houseClock.format(moment)
}
/** Today's business day as ISO text, in the house's time zone. */
export function todayIso(): string {
  return inHouse(new Date()).slice(0, 10)
}

type Parts = [year: number, month: number, day: number]
function partsOf(iso: string): Parts {
  const [year = 0, month = 1, day = 1] = iso.slice(0, 10).split('-').map(Number)
  return [year, month, day]
}
/** Noon by the world's clock: no clock change moves the day. */
function noon([year, month, day]: Parts): Date {
  return new Date(Date.UTC(year, month - 1, day, 12))
}
const two = (n: number) => String(n).padStart(2, '0')

/** A name of the calendar; to ask for it anew costs more than all else on a list of a thousand days. */
const names = new Map<string, string>()
function calendarName(style: Intl.DateTimeFormatOptions, parts: Parts): string {
  const language = i18n.global.locale.value
  const key = [language, style.month, style.weekday, ...parts].join()
  const known = names.get(key)
  if (known !== undefined) return known
  const name = new Intl.DateTimeFormat(language, { ...style, timeZone: 'UTC' }).format(noon(parts))
  names.set(key, name)
  return name
}
/** A month's name in the language of the words. */
export function monthName(month: number, style: 'short' | 'long' = 'short'): string {
  return calendarName({ month: style }, [2026, month, 15])
}
/** A weekday's name in the language of the words; Monday is 0. */
export function weekdayName(place: number, style: 'short' | 'long' = 'long'): string {
  return calendarName({ weekday: style }, [2026, 6, 1 + place])
}

/** A business day in the person's format, with its year only where it is not this one. */
export function day(iso: string | null | undefined): string {
  if (!iso) return '—'
  const house = iso.length === 10 ? iso : inHouse(new Date(iso))
  const [year, month, date] = partsOf(house)
  const whole = String(year) !== todayIso().slice(0, 4)
  const { day: style } = format.value
  if (style.includes('MMM')) return `${date} ${monthName(month)}${whole ? ` ${year}` : ''}`
  const written = style
    .replace('YYYY', whole ? String(year) : '')
    .replace('MM', two(month))
    .replace('DD', two(date))
  return whole ? written : written.replace(/\/$/, '')
}
/** The time of day. */
export function clock(iso: string): string {
  return inHouse(new Date(iso)).slice(11, 16)
}
/** Day and time. */
export function moment(iso: string): string {
  return `${day(iso)}, ${clock(iso)}`
}
/** A month as "November 2026", from "2026-11". */
export function monthOf(key: string): string {
  const [year, month] = partsOf(`${key}-01`)
  return `${monthName(month, 'long')} ${year}`
}

/** A day as ISO text, by the world's clock. */
function isoOf(date: Date): string {
  return `${date.getUTCFullYear()}-${two(date.getUTCMonth() + 1)}-${two(date.getUTCDate())}`
}
/** The day so many days after another. */
export function addDays(iso: string, days: number): string {
  const date = noon(partsOf(iso))
  date.setUTCDate(date.getUTCDate() + days)
  return isoOf(date)
}
/** The day so many months after another; the last of a shorter month. */
export function addMonths(iso: string, months: number): string {
  const [year, month, date] = partsOf(iso)
  const first = noon([year, month + months, 1])
  const last = noon([first.getUTCFullYear(), first.getUTCMonth() + 2, 0]).getUTCDate()
  return isoOf(noon([first.getUTCFullYear(), first.getUTCMonth() + 1, Math.min(date, last)]))
}
/** How many days one day lies after another. */
export function daysBetween(from: string, to: string): number {
  return Math.round((noon(partsOf(to)).getTime() - noon(partsOf(from)).getTime()) / 86_400_000)
}
/** The day's place in its week, Monday first: 0 to 6. */
export function weekday(iso: string): number {
  return (noon(partsOf(iso)).getUTCDay() + 6) % 7
}
/** Whether the calendar has such a day. */
export function isDay(year: number, month: number, date: number): boolean {
  return isoOf(noon([year, month, date])) === `${year}-${two(month)}-${two(date)}`
}
/** A day as ISO text from its parts. */
export function isoDay(year: number, month: number, date: number): string {
  return `${year}-${two(month)}-${two(date)}`
}
