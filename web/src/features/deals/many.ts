/** Several deals to be changed together: what each becomes. */
import { addDays } from '@/kit/format/format'
import type { Shapes } from '@/api/client'
import type { DealRow } from './queries'

export type OfMany = Shapes['DealOfMany']
export interface Wish {
  stage: string | null
  owner: number | null
  /** Days later; below nothing sooner. */
  shift: number
}

export const wished = ({ stage, owner, shift }: Wish) => stage !== null || owner !== null || shift !== 0 // prettier-ignore

/** A day never moves into the past. */
export function changesOf(rows: DealRow[], wish: Wish, today: string): OfMany[] {
  return rows.map(({ id, version, decision_on }) => {
    const moved = addDays(decision_on, wish.shift)
    return {
      id,
      version,
      stage: wish.stage,
      owner_id: wish.owner,
      decision_on: wish.shift ? (moved < today ? today : moved) : null,
    }
  })
}

/** What takes it back: each as it was, from the version that it has now. */
export function backOf(before: DealRow[], now: DealRow[], wish: Wish): OfMany[] {
  const versions = new Map(now.map(({ id, version }) => [id, version]))
  return before
    .filter(({ id }) => versions.has(id))
    .map((row) => ({
      id: row.id,
      version: versions.get(row.id) ?? 0,
      stage: wish.stage === null ? null : row.stage,
      owner_id: wish.owner === null ? null : row.owner_id,
      decision_on: wish.shift ? row.decision_on : null,
    }))
}
