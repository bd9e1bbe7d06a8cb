/** What stands first against issuing a quote, and what solving for an amount sets on it. */
import type { Shapes } from '@/api/client'
import { numbersOf } from '@/features/quotes/grid/lineActs'
import type { DeskLine } from '@/parts/line/line'
import { t } from '@/words'
import { worded } from '@/words/refusals'

/** The first problem in words, and its row, below 0 for the whole quote; null where there is none. */
export function firstProblem(answer: Shapes['Answer'], lines: DeskLine[]) {
  const first = answer.problems[0]
  if (!first) return null
  const row = lines.findIndex((line) => line.key === first.line)
  const words = worded(first) ?? ''
  const number = numbersOf(lines)[row]
  return { row, said: row < 0 ? words : t('desk.lineProblem', { number: number ?? '', words }) }
}

/** A discount on the whole, as percent where there is one. */
export const solvedFields = (amount: string, percent: string | null) => ({
  discount_percent: percent ?? '',
  discount_amount: percent ? '' : amount,
  discount_on: 'net' as const,
})

/** The lines with an amount off the one of a key. */
export const withAmountOff = (lines: DeskLine[], key: string, amount: string): DeskLine[] =>
  lines.map((line) =>
    line.key === key ? { ...line, discount_amount: amount, discount_percent: null } : line,
  )
