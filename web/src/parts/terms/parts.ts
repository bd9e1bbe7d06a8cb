/** Payment in parts: the last part is what the others leave of a hundred percent. */
import type { Shapes } from '@/api/client'

export type Part = Shapes['PartOut']
/** Percents have at most four decimals; shares are counted in these. */
const SHARES = 10_000

/** The parts with the last one made the rest; null where nothing is left for it. */
export function withRest(parts: Part[]): Part[] | null {
  const before = parts.slice(0, -1)
  const last = parts.at(-1)
  const taken = before.reduce((sum, part) => sum + Math.round(Number(part.percent) * SHARES), 0)
  const rest = 100 * SHARES - taken
  return last && rest > 0 ? [...before, { ...last, percent: String(rest / SHARES) }] : null
}

/** One part more: half of the last one, and 30 days after it; two halves to begin with. */
export function withAnother(parts: Part[]): Part[] | null {
  const last = parts.at(-1)
  if (!last) return [{ percent: '50', days: 0 }, { percent: '50', days: 60 }] // prettier-ignore
  const half = { percent: String(Math.floor(Number(last.percent) / 2)), days: last.days }
  if (Number(half.percent) <= 0) return null
  return withRest([...parts.slice(0, -1), half, { ...last, days: last.days + 30 }])
}

/** Without one of them; none at all where a single one would be left. */
export function withoutPart(parts: Part[], n: number): Part[] {
  const left = parts.filter((_, m) => m !== n)
  return left.length > 1 ? (withRest(left) ?? []) : []
}
