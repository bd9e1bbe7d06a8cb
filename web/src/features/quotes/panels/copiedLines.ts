/** Lines of another quote as they come into this one. */
import type { Shapes } from '@/api/client'
import type { DeskLine, Kind } from '@/parts/line/line'

const BY_RULES = { price: null, price_reason: '', discount_percent: null, discount_amount: null }

/** Fresh keys; an alternative keeps to its line where that comes along, else it stands alone. */
export function copied(chosen: Shapes['DeskLine'][], asAgreed: boolean): DeskLine[] {
  const keys = new Map(chosen.map((row) => [row.key, crypto.randomUUID() as string]))
  return chosen.map((row) => {
    const original = keys.get(row.alternative_to) ?? ''
    const alone = row.kind === 'alternative' && !original
    return {
      ...row,
      key: keys.get(row.key) ?? '',
      kind: alone ? 'normal' : (row.kind as Kind),
      alternative_to: original,
      wanted_on: null,
      ...(asAgreed ? {} : BY_RULES),
    }
  })
}
