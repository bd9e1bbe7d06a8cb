/** Finished figures for the eye. Amounts arrive as decimal text and are never computed with. */
const MINUS = '\u2212'
const GAP = '\u00a0'

/** An amount or quantity with grouped thousands and a true minus; decimals stay as they came. */
export function figure(value: string | number | null | undefined): string {
  if (value === null || value === undefined || value === '') return '—'
  const text = String(value)
  const [whole = '', rest] = text.replace('-', '').split('.')
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, GAP)
  return (text.startsWith('-') ? MINUS : '') + grouped + (rest ? `.${rest}` : '')
}

/** An amount without its decimals, for places where only the size matters. */
export function rough(value: string): string {
  return figure(value.split('.')[0])
}

/** How large an amount is, for a chart's bar or a chip's height; never shown, never summed. */
export function size(value: string): number {
  return Number.parseFloat(value)
}

/** All days and times on the screens are the house's, wherever the browser stands. */
let houseClock = clockOf(undefined)

function clockOf(timeZone: string | undefined): Intl.DateTimeFormat {
  return new Intl.DateTimeFormat('sv-SE', { timeZone, dateStyle: 'short', timeStyle: 'medium' })
}

export function useZone(name: string | undefined): void {
  houseClock = clockOf(name)
}

const SHORT = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short' })
const WITH_YEAR = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  year: 'numeric',
})
const TIME = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' })
const MONTH = new Intl.DateTimeFormat('en-GB', { month: 'long', year: 'numeric' })

/** Today's business day as ISO text, in the house's time zone. */
export function todayIso(): string {
  return houseClock.format(new Date()).slice(0, 10)
}

function asDate(iso: string): Date {
  return iso.length === 10 ? new Date(`${iso}T12:00:00`) : inZone(new Date(iso))
}

/** A date whose local fields read as the house's clock does. */
function inZone(moment: Date): Date {
  return new Date(houseClock.format(moment).replace(' ', 'T'))
}

/** A day, with its year only where it is not this one. */
export function day(iso: string | null | undefined): string {
  if (!iso) return '—'
  const date = asDate(iso)
  return (iso.slice(0, 4) === todayIso().slice(0, 4) ? SHORT : WITH_YEAR).format(date)
}

/** Day and time. */
export function moment(iso: string): string {
  return `${day(iso)}, ${TIME.format(asDate(iso))}`
}

/** The time of day. */
export function clock(iso: string): string {
  return TIME.format(asDate(iso))
}

/** A forecast month in words. */
export function month(key: string): string {
  return key === 'overdue' ? 'Date gone by' : MONTH.format(asDate(`${key}-15`))
}

/** A count with its word. */
export function count(n: number, one: string, many: string = `${one}s`): string {
  return `${n} ${n === 1 ? one : many}`
}

/** A unit in a sentence: "10 pieces", "1 box". The units' own names are singular. */
export function units(quantity: string, name: string): string {
  const many = quantity === '1' ? name : /(x|s|ch|sh)$/.test(name) ? `${name}es` : `${name}s`
  return `${figure(quantity)} ${many}`
}

/** A day as ISO text, in local time. */
export function isoDay(date: Date): string {
  const two = (n: number) => String(n).padStart(2, '0')
  return `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`
}

/** The day so many days after another. */
export function addDays(iso: string, days: number): string {
  const date = asDate(iso)
  date.setDate(date.getDate() + days)
  return isoDay(date)
}
