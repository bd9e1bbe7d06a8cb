/** Answers put together so that what did not change stays the same object, and its row untouched. */
import type { Shapes } from '@/api/client'

type Answer = Shapes['Answer']
type Line = Answer['priced']['lines'][number]

/** A save's answer, with the lines that did not change as they were. */
export function reuse(before: Answer | null, next: Answer): Answer {
  if (!before) return next
  const known = new Map(before.priced.lines.map((line) => [line.id, line]))
  const kept = next.priced.lines.map((line) => {
    const old = known.get(line.id)
    return old && JSON.stringify(old) === JSON.stringify(line) ? old : line
  })
  return { ...next, priced: { ...next.priced, lines: kept } }
}

/** What was answered while typing, put on the last answer; limits are judged by the save that follows. */
export function withQuick(before: Answer, found: Shapes['QuickOut']): Answer {
  return {
    ...before,
    problems: found.problems,
    mark: found.mark,
    priced: { ...found.priced, lines: filled(before, found.priced.lines) },
    checks: { ...found.checks, limits: before.checks.limits },
  }
}

/** Lines as an answer while typing brings them, with the rest as it was; a new line's rest is empty. */
function filled(before: Answer, lines: Shapes['TypedLineOut'][]): Line[] {
  const known = new Map(before.priced.lines.map((line) => [line.id, line]))
  return lines.map((line) => {
    const old = known.get(line.id)
    return old && holds(old, line) ? old : { ...(old ?? EMPTY), ...line }
  })
}
/** Whether a line says all that the newer one says. */
function holds(old: Line, line: Shapes['TypedLineOut']): boolean {
  return (Object.keys(line) as (keyof Line)[]).every(
    (key) =>
      old[key] === line[key as 'id'] ||
      JSON.stringify(old[key]) === JSON.stringify(line[key as 'id']),
  )
}
const EMPTY = {
  source: null,
  amount: null,
  discount: null,
  counted: true,
  by_rules: null,
  split: null,
  document_discount_share: '0',
  steps: [],
  passed_over: [],
}
