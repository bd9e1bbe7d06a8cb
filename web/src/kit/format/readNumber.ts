/**
 * Numbers as people write them, read by the same rule as in the core (routecore.reading.numbers):
 * every reading of a text is found; a text with more than one is in doubt and is not guessed at. The
 * examples in tests/shared/numbers.json hold both to it.
 */
import { format, formatName } from './person'

/** A reading: the plain decimal text, and the signs it takes as the decimal one and between groups. */
export interface Reading {
  value: string
  decimal: string
  group: string
}
/** One value; several that it could be, the likeliest first; or no number. */
export type ReadNumber = { value: string } | { doubt: string[] } | null

const DECIMALS = ['', '.', ',']
const GROUPS = ['', '.', ',', ' ', "'"]

export function readingsOf(text: string): Reading[] {
  const bare = text
    .replace(/[\u00a0\u202f\u2009]/g, ' ')
    .replace(/[\u2019\u02bc]/g, "'")
    .trim()
  const found: Reading[] = []
  if (!/^[0-9.,' ]+$/.test(bare)) return found
  for (const group of GROUPS) {
    for (const decimal of DECIMALS) {
      if (decimal && decimal === group) continue
      const value = read(bare, decimal, group)
      if (value !== null && !found.some((other) => other.value === value)) {
        found.push({ value, decimal, group })
      }
    }
  }
  return found.sort((one, other) => Number(!!one.decimal) - Number(!!other.decimal))
}

function read(text: string, decimal: string, group: string): string | null {
  let whole = text
  let rest = ''
  if (decimal) {
    const parts = text.split(decimal)
    if (parts.length !== 2) return null
    ;[whole = '', rest = ''] = parts
    if (!/^[0-9]{0,6}$/.test(rest) || !(whole || rest)) return null
  }
  if (group) {
    const sign = `\\${group}`
    if (!new RegExp(`^[1-9][0-9]{0,2}(${sign}[0-9]{3})+$`).test(whole)) return null
    whole = whole.split(group).join('')
  }
  if (!/^[0-9]{0,15}$/.test(whole) || !(whole || rest)) return null
  return plain(whole, rest)
}
/** One way of writing each value: no zeros before or behind it. */
function plain(whole: string, rest: string): string {
  const digits = rest.replace(/0+$/, '')
  return (whole.replace(/^0+(?=\d)/, '') || '0') + (digits ? `.${digits}` : '')
}

/** Whether a reading takes the signs as a person does whose decimal sign is known. */
function keepsTo(reading: Reading, decimal: string): boolean {
  return reading.decimal ? reading.decimal === decimal : reading.group !== decimal
}

/**
 * The number, read by the person's own format where they chose one.
 *
 * @param decimals how many decimals it may have
 */
export function readNumber(text: string, decimals = 6): ReadNumber {
  const all = readingsOf(text)
  const kept =
    formatName.value === 'house' ? [] : all.filter((each) => keepsTo(each, format.value.decimal))
  const values = (kept.length === 1 ? kept : all)
    .map((reading) => reading.value)
    .filter((value) => (value.split('.')[1] ?? '').length <= decimals)
  if (!values.length) return null
  return values.length === 1 ? { value: values[0] ?? '' } : { doubt: values }
}
