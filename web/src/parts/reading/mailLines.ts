/** The lines that a mail asks for, as a person looks through them: which are taken, and how. */
import type { Shapes } from '@/api/client'
import { type DeskLine, newLine } from '@/parts/line/line'
import { readQuantity } from '@/parts/line/numbers'

export type Item = Shapes['ItemOut']
export interface MailLine {
  number: number
  sentence: string
  words: string
  meant: Shapes['MeantOut'][]
  item: Item | null
  quantity: string
  /** All that its number may say: "2,500" is two and a half, or as many thousands. */
  readings: string[]
  unit: string
  doubts: string[]
  agreement: string
  taken: boolean
  /** Its words name the item from now on. */
  keep: boolean
  /** Whether a person chose another item than the one that was likeliest. */
  corrected: boolean
}

export function mailLine(found: Shapes['MailLineOut']): MailLine {
  const { number, sentence, words, meant, unit, doubts, agreement } = found
  const item = meant[0]?.item ?? null
  const quantity = found.quantity ?? ''
  const readings = found.others.length ? [quantity, ...found.others] : []
  const sure = !doubts.length
  return {
    ...{ number, sentence, words, meant, item, quantity, readings, unit, doubts, agreement },
    ...{ taken: sure, keep: false, corrected: false },
  }
}
const without = (line: MailLine, doubt: string) => line.doubts.filter((each) => each !== doubt)

/** Another item is meant; its unit is kept where it has it. */
export function withItem(line: MailLine, item: Item): MailLine {
  const has = item.units.some((unit) => unit.code === line.unit)
  const first = line.meant[0]?.item.id === item.id
  return {
    ...line,
    item,
    unit: has ? line.unit : item.sales_unit,
    agreement: first ? line.agreement : '',
    doubts: without(line, 'item'),
    corrected: !first || line.doubts.includes('item'),
    keep: line.keep && !first,
    taken: true,
  }
}
export const withQuantity = (line: MailLine, quantity: string): MailLine => ({
  ...line,
  quantity,
  doubts: without(line, 'quantity'),
  taken: true,
})
/** What else its number may say. */
export const otherReadings = (line: MailLine): string[] =>
  line.readings.filter((reading) => reading !== line.quantity)
export const withUnit = (line: MailLine, unit: string): MailLine => ({
  ...line,
  unit,
  doubts: without(line, 'unit'),
  taken: true,
})
/** What is ticked is meant as it stands. */
export const withTaken = (line: MailLine, taken: boolean): MailLine => ({
  ...line,
  taken,
  doubts: taken ? [] : line.doubts,
})

function quantityOf(line: MailLine): string | null {
  const got = readQuantity(line.quantity)
  return 'value' in got ? got.value : null
}
/** Whether it can become a line: ticked, with an item and a number. */
export const ready = (line: MailLine): boolean =>
  line.taken && line.item !== null && quantityOf(line) !== null

export function lineOf(line: MailLine): DeskLine {
  return { ...newLine(line.item), quantity: quantityOf(line) ?? '1', unit: line.unit }
}

/** A sentence in three parts, the words that name the item in the middle. */
export function around(sentence: string, words: string): [string, string, string] {
  const at = sentence.toLowerCase().indexOf(words.toLowerCase())
  if (at < 0 || !words) return [sentence, '', '']
  const after = at + words.length
  return [sentence.slice(0, at), sentence.slice(at, after), sentence.slice(after)]
}
