/** What if: how somebody thinks of deals, instead of how they stand. Nothing of it is stored before it is kept. */
import type { Shapes } from '@/api/client'

export type DecidingDeal = Shapes['DecidingDeal']
type OfMany = Shapes['DealOfMany']
/** What is thought of a deal; what is not named stays as it stands. */
export interface Thought {
  out?: boolean
  decision_on?: string
  probability?: string
  amount?: string
}
/** By the deal's key. */
export type Thoughts = Record<string, Thought>

const SAME = {
  out: () => false,
  decision_on: (deal: DecidingDeal) => deal.decision_on,
  probability: (deal: DecidingDeal) => Number(deal.probability),
  amount: (deal: DecidingDeal) => Number(deal.amount),
}
const read = {
  out: (value: unknown) => Boolean(value),
  decision_on: (value: unknown) => value,
  probability: Number,
  amount: Number,
}

/** With one thing more thought of a deal; a thought that says what stands there anyway is none. */
export function think(known: Thoughts, deal: DecidingDeal, more: Thought): Thoughts {
  const mine: Thought = { ...known[deal.id], ...more }
  for (const field of Object.keys(SAME) as (keyof Thought)[]) {
    const value = mine[field]
    if (value === undefined || read[field](value) === SAME[field](deal)) delete mine[field]
  }
  const others = without(known, deal)
  return Object.keys(mine).length ? { ...others, [deal.id]: mine } : others
}

/** With nothing thought of a deal. */
export const without = (known: Thoughts, deal: DecidingDeal): Thoughts =>
  Object.fromEntries(Object.entries(known).filter(([id]) => id !== String(deal.id)))

/** As the API takes them. */
export const thoughtsOf = (known: Thoughts): Shapes['ThoughtIn'][] =>
  Object.entries(known).map(([id, thought]) => ({ id: Number(id), out: false, ...thought }))

/** Whether a chance is another: then somebody says why. */
export const asksWhy = (known: Thoughts) =>
  Object.values(known).some(({ out, probability }) => !out && probability !== undefined)

/** What a deal is to become; deals that are left out, and amounts that a quote says, are only thought of. */
export function changesOf(known: Thoughts, deals: DecidingDeal[], why: string): OfMany[] {
  return deals.flatMap((deal) => {
    const thought = known[deal.id]
    if (!thought || thought.out) return []
    const change: OfMany = { id: deal.id, version: deal.version }
    if (thought.decision_on !== undefined) change.decision_on = thought.decision_on
    if (thought.probability !== undefined) {
      change.probability = thought.probability
      change.probability_reason = why
    }
    if (thought.amount !== undefined && !deal.quoted) change.estimate = thought.amount
    const { decision_on, probability, estimate } = change
    return (decision_on ?? probability ?? estimate) ? [change] : []
  })
}

/** What takes it back, from the versions that the deals have now. */
export function backOf(
  changes: OfMany[],
  deals: DecidingDeal[],
  now: Shapes['DealRow'][],
): OfMany[] {
  const versions = new Map(now.map(({ id, version }) => [id, version]))
  const before = new Map(deals.map((deal) => [deal.id, deal]))
  return changes.flatMap((change) => {
    const [deal, version] = [before.get(change.id), versions.get(change.id)]
    if (!deal || version === undefined) return []
    const back: OfMany = { id: deal.id, version }
    if (change.decision_on) back.decision_on = deal.decision_on
    if (change.estimate) back.estimate = deal.amount
    if (change.probability && deal.own) {
      back.probability = deal.probability
      back.probability_reason = deal.reason
    } else if (change.probability) back.stage_probability = true
    return [back]
  })
}
