/** The days of a plan as they are typed. */
export interface PlanRow {
  key: number
  on: string | null
  quantity: string
}

/** What a row lacks: its day, its quantity; nothing for a whole or an empty one. */
export function lackOf({ on, quantity }: PlanRow): 'day' | 'quantity' | null {
  if (on && !quantity) return 'quantity'
  return !on && quantity ? 'day' : null
}

/** The days as they are sent, without empty rows; null where one is typed by half. */
export function planOf(rows: PlanRow[]): { on: string; quantity: string }[] | null {
  if (rows.some((row) => lackOf(row))) return null
  return rows.flatMap(({ on, quantity }) => (on ? [{ on, quantity }] : []))
}
