/** What of the offered lines is ordered, as it is typed and as it is sent. */
import type { Shapes } from '@/api/client'
import { quantityOf } from '@/parts/regulars/typed'

export type Plan = Shapes['PlanOut']
export type Offered = Shapes['OfferedOut']
export type LinePromise = Shapes['LinePromise']

/** A part of a line as typed; without a quantity it is not ordered. */
export interface Split {
  quantity: string
  depot: number | null
  day: string | null
  place: number | null
}
/** What was typed otherwise than it stands there by itself. */
export interface Typed {
  reference?: string
  wanted?: string | null
  place?: number | null
  /** Whether it may leave in parts; as the customer has it until somebody says. */
  parts?: boolean
  close: '' | 'yes' | 'no'
  beyond: boolean
  /** By offer and line. */
  rows: Record<string, Split[]>
}
/** What the server says of a part of a line. */
export interface Answer {
  net: string
  beyond: boolean
  promise: LinePromise | undefined
}
export interface Sent {
  offer: number
  key: string
  split: number
}

export const EMPTY: Split = { quantity: '', depot: null, day: null, place: null }
export const nameOf = (revision: number, key: string) => `${revision}:${key}`

export function isUnread({ quantity }: Split): boolean {
  const found = quantityOf(quantity)
  return found !== null && 'reason' in found
}

/** The lines of each offer that are ordered, as they are sent; and which part of which line each is. */
export function sourcesOf(
  offers: Plan['offers'],
  rowsOf: (revision: number, key: string) => Split[],
) {
  const sent: Sent[] = []
  const sources: Shapes['SourceIn'][] = []
  for (const offer of offers) {
    const lines: Shapes['WantIn'][] = []
    for (const { key } of offer.lines) {
      rowsOf(offer.revision_id, key).forEach((each, split) => {
        const found = quantityOf(each.quantity)
        if (!found || !('quantity' in found)) return
        sent.push({ offer: offer.revision_id, key, split })
        lines.push({
          key,
          quantity: found.quantity,
          depot_id: each.depot,
          wanted_on: each.day,
          address_id: each.place,
        })
      })
    }
    const { revision_id, version } = offer
    if (lines.length) sources.push({ revision_id, version, lines, take: [] })
  }
  return { sent, sources }
}
