/** A standing order as it is typed. */
import type { Shapes } from '@/api/client'
import { todayIso } from '@/kit/format/format'
import { plainRule, ruleOf, typedOf, type TypedRule } from './repeat'

export interface TypedEach {
  key: number
  item_id: number | null
  quantity: string
  unit: string
}
export interface TypedStanding {
  title: string
  rule: TypedRule
  begins: string
  ends: string | null
  notice: number
  reference: string
  address: number | null
  lines: TypedEach[]
}
export const emptyEach = (lines: TypedEach[]): TypedEach => ({
  key: Math.max(0, ...lines.map((line) => line.key)) + 1,
  item_id: null,
  quantity: '',
  unit: '',
})
const NOTICE = 7
export const nothingStanding = (): TypedStanding => ({
  title: '',
  rule: plainRule(),
  begins: todayIso(),
  ends: null,
  notice: NOTICE,
  reference: '',
  address: null,
  lines: [emptyEach([])],
})

export function typedStanding(row: Shapes['StandingOrderOut']): TypedStanding {
  return {
    title: row.title,
    rule: typedOf(row.repetition),
    begins: row.begins,
    ends: row.ends,
    notice: row.notice_days,
    reference: row.buyer_reference,
    address: row.delivery_address_id,
    lines: row.lines.map(({ item_id, quantity, unit }, n) => ({ key: n + 1, item_id, quantity, unit })), // prettier-ignore
  }
}

/** Whether a line has its item and not its quantity, or the other way round: it would be lost. */
export const isHalf = (line: TypedEach) => Boolean(line.item_id) !== Boolean(line.quantity)

/** What is sent; lines without an item or a quantity are not there yet. */
export function wishOf(typed: TypedStanding): Shapes['StandingOrderIn'] {
  return {
    title: typed.title.trim(),
    repetition: ruleOf(typed.rule),
    begins: typed.begins,
    ends: typed.ends,
    notice_days: typed.notice,
    buyer_reference: typed.reference.trim(),
    delivery_address_id: typed.address,
    lines: typed.lines.flatMap(({ item_id, quantity, unit }) =>
      item_id && quantity ? [{ item_id, quantity, unit }] : [],
    ),
  }
}
