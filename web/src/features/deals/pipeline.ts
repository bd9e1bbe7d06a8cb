/** The pipeline as it is typed: its lines, and what of them is sent. */
import type { Shapes } from '@/api/client'

export interface StageLine {
  id: number | null
  name: string
  percent: string
  asks: '' | 'quote' | 'decider'
  retired: boolean
}
export interface ReasonLine {
  id: number | null
  outcome: 'won' | 'lost' | 'parked'
  name: string
  retired: boolean
}
export interface Pipeline {
  stages: StageLine[]
  reasons: ReasonLine[]
}

/** What is kept, as lines; the closed stages are not moved. */
export function linesOf(told: Shapes['PipelineOut']): Pipeline {
  return {
    stages: told.stages
      .filter(({ outcome }) => outcome === 'open')
      .map(({ id, name, probability_percent, asks, retired }) => ({
        id,
        name,
        percent: probability_percent,
        asks: asks as StageLine['asks'],
        retired,
      })),
    reasons: told.reasons.map(({ id, outcome, name, retired }) => ({
      id,
      outcome: outcome as ReasonLine['outcome'],
      name,
      retired,
    })),
  }
}

/** A new line that was left empty is none. */
export function asSent({ stages, reasons }: Pipeline) {
  return {
    stages: stages
      .filter(({ id, name }) => id !== null || name.trim())
      .map(({ percent, ...line }) => ({ ...line, probability_percent: percent.replace(',', '.') })),
    reasons: reasons.filter(({ id, name }) => id !== null || name.trim()),
  }
}

/** The lines with one of them a place further up or down. */
export function moved(lines: StageLine[], line: StageLine, by: 1 | -1): StageLine[] {
  const at = lines.indexOf(line)
  const to = at + by
  if (at < 0 || to < 0 || to >= lines.length) return lines
  const rest = lines.filter((each) => each !== line)
  return [...rest.slice(0, to), line, ...rest.slice(to)]
}
