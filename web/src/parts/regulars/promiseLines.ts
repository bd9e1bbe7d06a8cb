/** The question that a page of the sheet asks of the stock. */
import type { Shapes } from '@/api/client'
import type { Row, Typed } from './queries'

/** Each row's typed quantity, or the usual one where none is typed; its key is the item's number. */
export function promiseLines(
  rows: Row[],
  typed: Typed[],
  depot: number | null,
): Shapes['PromisesIn']['lines'] {
  const given = new Map(typed.map((line) => [line.item_id, line]))
  return rows.map(({ item, unit, usual }) => ({
    key: String(item.id),
    item_id: item.id,
    quantity: String(given.get(item.id)?.quantity ?? usual),
    unit: given.get(item.id)?.unit ?? unit,
    kind: 'normal' as const,
    depot_id: depot,
    wanted_on: null,
  }))
}
