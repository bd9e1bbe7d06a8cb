/** What moved as a line of steps: places in a picture, nothing is summed here. */
import type { Shapes } from '@/api/client'

export type Moved = Shapes['ForecastMoved']
export const WIDTH = 1180
const TOP = 40
const HEIGHT = 110
export interface Riser {
  cause: string
  /** Where it begins and ends, and whether it goes up. */
  x: number
  from: number
  to: number
  up: boolean
}
export interface Line {
  step: number
  start: { x: number; y: number }
  end: { x: number; y: number }
  risers: Riser[]
}

/** The line from the start through every step to the end, at one scale. */
export function lineOf(moved: Moved): Line {
  const levels = [Number(moved.start ?? 0)]
  for (const step of moved.steps)
    levels.push((levels[levels.length - 1] ?? 0) + Number(step.amount))
  const least = Math.min(...levels)
  const most = Math.max(...levels)
  const y = (level: number) =>
    TOP + (most > least ? (1 - (level - least) / (most - least)) * HEIGHT : HEIGHT / 2)
  // As many columns of equal width as there are steps and ends: the names stand below in the same ones.
  const step = WIDTH / (moved.steps.length + 2)
  return {
    step,
    start: { x: step / 2, y: y(levels[0] ?? 0) },
    end: { x: WIDTH - step / 2, y: y(levels[levels.length - 1] ?? 0) },
    risers: moved.steps.map(({ cause }, n) => ({
      cause,
      x: step * (n + 1.5),
      from: y(levels[n] ?? 0),
      to: y(levels[n + 1] ?? 0),
      up: (levels[n + 1] ?? 0) >= (levels[n] ?? 0),
    })),
  }
}
