/** Pasted rows as they are looked at: which item, how many, and what is still in doubt. */
import type { Shapes } from '@/api/client'
import { type DeskLine, newLine } from '@/parts/line/line'
import { readQuantity } from '@/parts/line/numbers'
import { t } from '@/words'

type Match = Shapes['MatchOut']
type Reading = Omit<Shapes['ReadingOut'], 'why'>

export interface PastedRow {
  row: number
  words: string
  item: Shapes['ItemOut'] | null
  candidates: Shapes['ItemOut'][]
  quantity: string
  unit: string
  price: string | null
  doubts: string[]
  others: Shapes['ReadingOut'][]
  /** The customer's agreement that runs for the item. */
  agreement: string
  /** Which reading stands: the first (-1), or one of the others by its place. */
  read: number
  first: Reading
}

export function pastedRow(found: Match): PastedRow {
  return { ...found, quantity: found.quantity ?? '', read: -1, first: { ...found } }
}
const without = (row: PastedRow, doubt: string) => row.doubts.filter((each) => each !== doubt)

/** Somebody looked at a doubt: what stands there is meant. */
export function looked(row: PastedRow, doubt: string): PastedRow {
  return { ...row, doubts: without(row, doubt) }
}
/** All of it is meant as it is read. */
export function asItIs(row: PastedRow): PastedRow {
  return { ...row, doubts: [] }
}
export function withItem(row: PastedRow, id: number | null): PastedRow {
  const item = row.candidates.find((each) => each.id === id) ?? null
  return {
    ...row,
    item,
    agreement: '',
    unit: item?.sales_unit ?? '',
    doubts: item ? without(row, 'item') : [...without(row, 'item'), 'item'],
  }
}
/** Another reading stands: its figures and its item, and only what it lacks is in doubt. */
export function readAs(row: PastedRow, place: number): PastedRow {
  const reading = place < 0 ? row.first : row.others[place]
  if (!reading) return row
  const next = { ...row, ...reading, quantity: reading.quantity ?? '', read: place }
  if (place >= 0 && next.item?.id !== row.item?.id) next.agreement = ''
  return {
    ...next,
    doubts: [...(next.item ? [] : ['item']), ...(next.quantity ? [] : ['quantity'])],
  }
}
function quantityOf(row: PastedRow): string | null {
  const got = readQuantity(row.quantity)
  return 'value' in got ? got.value : null
}
/** Whether nothing of it is in doubt. */
export function ready(row: PastedRow): boolean {
  return row.item !== null && quantityOf(row) !== null && !row.doubts.length
}
/** The line that it makes; a pasted price is one agreed by hand. */
export function lineOf(row: PastedRow): DeskLine {
  return {
    ...newLine(row.item),
    quantity: quantityOf(row) ?? '1',
    unit: row.unit,
    price: row.price,
    price_reason: row.price ? t('desk.paste.reason') : '',
  }
}
