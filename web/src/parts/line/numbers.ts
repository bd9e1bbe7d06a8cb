/** Quantities, prices and discounts as they are typed into a line: the value, or why not. */
import { figure } from '@/kit/format/format'
import { readNumber } from '@/kit/format/readNumber'
import { t, type Key } from '@/words'

export type Got<T> = { value: T } | { reason: string }
export interface Discount {
  discount_percent: string | null
  discount_amount: string | null
}

/** At most nine digits before the point, as the server keeps. */
function number(text: string, decimals: number, otherwise: Key, facts = {}): Got<string> {
  const found = readNumber(text, decimals)
  if (found && 'doubt' in found) {
    const [one = '', other = ''] = found.doubt
    return { reason: t('line.reads.doubt', { text: text.trim(), one: figure(one), other: figure(other) }) } // prettier-ignore
  }
  if (!found || (found.value.split('.')[0] ?? '').length > 9) return { reason: t(otherwise, facts) }
  return found
}

/** A quantity: more than nothing. */
export function readQuantity(text: string): Got<string> {
  const got = number(text, 6, 'line.reads.quantity')
  return 'value' in got && got.value === '0' ? { reason: t('line.reads.quantity') } : got
}

/** A price agreed by hand; empty text gives the line back to the rules. */
export function readPrice(text: string): Got<string | null> {
  return text.trim() ? number(text, 6, 'line.reads.price') : { value: null }
}

/** A percent between 0 and 100; empty text and 0 are none. */
export function readPercent(text: string): Got<string | null> {
  const bare = text.replace('%', '').trim()
  if (!bare) return { value: null }
  const got = number(bare, 4, 'line.reads.percent')
  if (!('value' in got)) return got
  const whole = got.value.split('.')[0] ?? ''
  if (whole.length > 2 && got.value !== '100') return { reason: t('line.reads.percent') }
  return got.value === '0' ? { value: null } : got
}

/** An amount of money, with or without its currency behind it. */
export function readAmount(text: string, currency: string, decimals: number): Got<string> {
  const bare = text.trim().toUpperCase().endsWith(currency)
    ? text.trim().slice(0, -currency.length)
    : text
  return number(bare, decimals, 'line.reads.amount', { currency })
}

/** "5" or "5 %" is a percent, "12.50 EUR" an amount, empty text no discount. */
export function readDiscount(text: string, currency: string, decimals: number): Got<Discount> {
  if (text.trim().toUpperCase().endsWith(currency)) {
    const amount = readAmount(text, currency, decimals)
    return 'value' in amount
      ? { value: { discount_percent: null, discount_amount: amount.value } }
      : amount
  }
  const percent = readPercent(text)
  if ('value' in percent) {
    return { value: { discount_percent: percent.value, discount_amount: null } }
  }
  return readNumber(text) ? percent : { reason: t('line.reads.discount', { currency }) }
}
