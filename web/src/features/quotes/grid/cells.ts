/** The columns of the line grid: what a cell shows in the editor, and how a text is read into a line. */
import type { Shapes } from '@/api/client'
import { type DeskLine, wordsOnly } from '@/parts/line/line'
import { readDiscount, readPrice, readQuantity } from '@/parts/line/numbers'
import type { Key } from '@/words'

/** The editable columns, in their order. */
export const ITEM = 0
export const WHAT = 1
export const QUANTITY = 2
export const UNIT = 3
export const PRICE = 4
export const DISCOUNT = 5
/** The row at the end, where a new line begins. */
export const FRESH = '+'
const LONGEST_TEXT = 200

export const NAMES: Key[] = [
  'desk.grid.item',
  'desk.grid.what',
  'desk.grid.quantity',
  'desk.grid.unit',
  'desk.grid.price',
  'desk.grid.discount',
]

export interface LineFacts {
  currency: string
  /** How many decimals the currency has. */
  digits: number
  priced?: Shapes['PricedOut']['lines'][number]
}
type Change = { change: Partial<DeskLine> } | { reason: string }

/** The text that a line's cell opens with; undefined where it cannot be edited. */
export function cellText(line: DeskLine, col: number, facts: LineFacts): string | undefined {
  if (wordsOnly(line)) return col === WHAT ? line.text : undefined
  switch (col) {
    case WHAT:
      return line.text
    case QUANTITY:
      return line.quantity
    case UNIT:
      return line.unit
    case PRICE:
      return line.price ?? facts.priced?.price ?? ''
    case DISCOUNT:
      return line.discount_amount
        ? `${line.discount_amount} ${facts.currency}`
        : (line.discount_percent ?? '')
    default:
      return undefined
  }
}

/** What a text makes of a line; nothing at all where it says what stands there. */
export function readCell(line: DeskLine, col: number, text: string, facts: LineFacts): Change {
  if (col === WHAT) {
    const words = text.trim().slice(0, LONGEST_TEXT)
    return { change: words && words !== line.text ? { text: words } : {} }
  }
  if (col === UNIT) {
    const known = line.item?.units.some((unit) => unit.code === text) ?? false
    return { change: known && text !== line.unit ? { unit: text } : {} }
  }
  if (col === QUANTITY) {
    const got = readQuantity(text)
    if (!('value' in got)) return got
    return { change: got.value === line.quantity ? {} : { quantity: got.value } }
  }
  if (col === PRICE) {
    const got = readPrice(text)
    if (!('value' in got)) return got
    const byRules = line.price === null && got.value === (facts.priced?.price ?? null)
    return { change: got.value === line.price || byRules ? {} : { price: got.value } }
  }
  const got = readDiscount(text, facts.currency, facts.digits)
  if (!('value' in got)) return got
  const same =
    got.value.discount_percent === line.discount_percent &&
    got.value.discount_amount === line.discount_amount
  return { change: same ? {} : { ...got.value } }
}

/** The unit that a first letter means, among those the item is sold in; else the present one. */
export function unitOf(line: DeskLine, letter: string): string {
  const found = line.item?.units.find((unit) =>
    unit.name.toLowerCase().startsWith(letter.toLowerCase()),
  )
  return found?.code ?? line.unit
}
