/** What the server refused, in words: by its code and its facts, in the person's own format. */
import { maybe, type Facts } from './index'

export interface Refusal {
  code?: string
  /** The server's own sentence, for a code that this build does not know yet. */
  message?: string
  path?: string
  facts?: Facts
}

let written = (fact: string | number): string => String(fact)
/** How figures and days in a sentence are written. */
export function writeFactsBy(how: (fact: string | number) => string): void {
  written = how
}

function told(fact: unknown): string {
  if (typeof fact === 'string' || typeof fact === 'number') return written(fact)
  if (Array.isArray(fact)) return fact.map(told).join(', ')
  if (fact && typeof fact === 'object') return worded(fact as Refusal) ?? ''
  return ''
}

/**
 * The sentence of a refusal: of its code the one for the fact `what`, else for the last part of the
 * path, else the one for any place; undefined where the code has no words and brought none.
 */
export function worded({ code = '', path = '', facts = {}, message }: Refusal): string | undefined {
  const place = /(\w+)(\[\d+\])?$/.exec(path)?.[1]
  const facing = Object.entries(facts).map(([name, fact]) => [name, told(fact)])
  const given = Object.fromEntries(facing) as Record<string, string>
  for (const which of [given.what, place, 'any']) {
    const found = which && maybe(`faults.${code}.${which}`, given)
    if (found) return found
  }
  return maybe(`faults.${code}`, given) ?? message
}
