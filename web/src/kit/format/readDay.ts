/**
 * Days as people type them: "12.3.", "12.3.27", "12/3", "12 Mar", "2027-03-12", "+7" for a week from
 * today, "+2w", "+1m", "-1". Figures alone are read in the person's order, day or month first.
 */
import { addDays, addMonths, isDay, isoDay, monthName, todayIso } from './day'
import { format } from './person'

/**
 * @param ahead a day without its year is the next one; else the last one, for what lies behind
 * @returns the day as ISO text; null for what is no day
 */
export function readDay(text: string, ahead = true): string | null {
  const bare = text.trim().toLowerCase().replace(/\s+/g, ' ')
  const step = /^([+-]\d{1,3}) ?([dwm]?)$/.exec(bare)
  if (step) return stepped(Number(step[1]), step[2] ?? '')
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(bare)
  if (iso) return made(Number(iso[1]), Number(iso[2]), Number(iso[3]))
  const figures = /^(\d{1,2})[./ -](\d{1,2})(?:[./ -](\d{4}|\d{2})?)?$/.exec(bare)
  if (figures) {
    const parts = [Number(figures[1]), Number(figures[2])] as const
    const [date, month] = format.value.order === 'dmy' || bare.includes('.') ? parts : [parts[1], parts[0]] // prettier-ignore
    return dated(figures[3], month, date, ahead)
  }
  const named = /^(\d{1,2})\.? ([^\d. ]{3,})\.? ?(\d{4}|\d{2})?$/.exec(bare)
  const month = named ? monthOfName(named[2] ?? '') : 0
  return named && month ? dated(named[3], month, Number(named[1]), ahead) : null
}

function stepped(by: number, unit: string): string {
  const today = todayIso()
  if (unit === 'm') return addMonths(today, by)
  return addDays(today, by * (unit === 'w' ? 7 : 1))
}
function monthOfName(name: string): number {
  for (let month = 1; month <= 12; month++) {
    const long = monthName(month, 'long').toLowerCase()
    if (long.startsWith(name) || monthName(month).toLowerCase() === name) return month
  }
  return 0
}
function made(year: number, month: number, date: number): string | null {
  return year >= 2000 && year <= 2199 && isDay(year, month, date) ? isoDay(year, month, date) : null
}
function dated(
  year: string | undefined,
  month: number,
  date: number,
  ahead: boolean,
): string | null {
  if (year) return made(year.length === 2 ? 2000 + Number(year) : Number(year), month, date)
  const today = todayIso()
  const now = Number(today.slice(0, 4))
  const here = made(now, month, date)
  if (here !== null && (ahead ? here >= today : here <= today)) return here
  return made(now + (ahead ? 1 : -1), month, date) ?? here
}
