/** Numbers as people type them, into the plain decimals that the server takes. */

/** "1 200", "12,5", "12.5" as plain decimal text; null where it is not one number. */
export function readNumber(typed: string, decimals: number): string | null {
  const text = typed.replace(/[\s\u202f\u00a0]/g, '').replace(',', '.')
  const pattern = new RegExp(`^\\d{1,9}(\\.\\d{1,${decimals}})?$`)
  if (!pattern.test(text)) return null
  const [whole = '', rest = ''] = text.split('.')
  const digits = rest.replace(/0+$/, '')
  return whole.replace(/^0+(?=\d)/, '') + (digits ? `.${digits}` : '')
}

/** A quantity: more than nothing. */
export function readQuantity(typed: string): string | null {
  const text = readNumber(typed, 6)
  return text === null || /^0+$/.test(text) ? null : text
}

/** A percent between 0 and 100; empty text is no discount. */
export function readPercent(typed: string): string | null | undefined {
  const cleaned = typed.replace('%', '').trim()
  if (!cleaned) return null
  const text = readNumber(cleaned, 4)
  if (text === null) return undefined
  const whole = text.split('.')[0] ?? ''
  const fits = whole.length < 3 || text === '100'
  return fits ? (text === '0' ? null : text) : undefined
}

/** A price agreed by hand; empty text gives the line back to the rules. */
export function readPrice(typed: string): string | null | undefined {
  const text = typed.trim()
  return text ? (readNumber(text, 6) ?? undefined) : null
}

/** "5" or "5 %" is a percent, "12.50 EUR" an amount, empty text no discount. */
export function readDiscount(
  typed: string,
  currency: string,
): { discount_percent: string | null; discount_amount: string | null } | undefined {
  const text = typed.trim().toUpperCase()
  if (text.endsWith(currency)) {
    const amount = readNumber(text.slice(0, -currency.length), 2)
    return amount === null ? undefined : { discount_percent: null, discount_amount: amount }
  }
  const percent = readPercent(typed)
  return percent === undefined ? undefined : { discount_percent: percent, discount_amount: null }
}
