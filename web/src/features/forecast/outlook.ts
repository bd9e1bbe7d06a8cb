/** The range of a month or a quarter as places on a line, and its chance in words. */
import type { Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import { t, tn } from '@/words'
import { monthName } from './months'

export type Period = Shapes['PeriodOut']

/** How much of the line everything takes at most: the rest is for the words at its end. */
const FULL = 94
export interface Places {
  won: number
  low: number
  middle: number
  high: number
  target: number | null
}
/** Places in percent of the line, of all periods at one scale. A picture: nothing is summed here. */
export function placesOf(periods: Period[]): Places[] {
  const most = Math.max(1, ...periods.map((each) => Math.max(+each.high, +(each.target ?? 0))))
  const at = (amount: string) => Math.max(0, (FULL * Number(amount)) / most)
  return periods.map((each) => ({
    won: at(each.won),
    low: at(each.low),
    middle: at(each.middle),
    high: at(each.high),
    target: each.target === null ? null : at(each.target),
  }))
}

export function nameOf({ first, quarter }: Period): string {
  const [year = '', month = ''] = first.split('-')
  if (!quarter) return monthName(`${year}-${month}`)
  return t('forecast.outlook.quarter', { n: (Number(month) + 2) / 3, year })
}

/** "2026-12", as lists and the server take a month. */
export const monthKey = ({ first }: Period) => first.slice(0, 7)

/** "35 in 100". */
export const hundredths = (chance: number) =>
  t('forecast.deciding.hundredths', { n: Math.round(chance * 100) })

/** How far apart the chances with and without a deal are, in hundredths. */
export function swingOf(swing: number): string {
  const points = Math.round(Math.abs(swing) * 100)
  return points ? `± ${points}` : '–'
}

/** "3 in 10", and at both ends what it is under or over. */
export function chanceOf(chance: number): string {
  if (chance < 0.05) return t('forecast.outlook.hardly')
  if (chance > 0.95) return t('forecast.outlook.surely')
  const tenths = Math.min(9, Math.max(1, Math.round(chance * 10)))
  return t('forecast.outlook.chance', { n: tenths })
}

/** The whole of a period in a sentence, for who hears the page. */
export function sentenceOf(period: Period): string {
  const { won, low, middle, high, count } = period
  const said = t('forecast.outlook.said', {
    period: nameOf(period),
    won: figure(won),
    low: figure(low),
    middle: figure(middle),
    high: figure(high),
    deals: tn('forecast.outlook.deals', count),
  })
  if (period.target === null || period.chance === null) return said
  const reach = t('forecast.outlook.reach', { target: figure(period.target) })
  return `${said} ${chanceOf(period.chance)} ${reach}.`
}
