/** The whole Route as lines and places on a sheet, and as a tree to be read and walked through. */
import type { Shapes } from '@/api/client'

export type Whole = Shapes['WholeRouteOut']
export type Stop = Whole['nodes'][number]

export const CELL = { width: 156, height: 58 }
const TOP = 44
const LEFT = 22

export const xOf = (stop: { column: number }) => LEFT + stop.column * CELL.width
export const yOf = (stop: { row: number }) => TOP + stop.row * CELL.height
export const sizeOf = (whole: Whole) => ({
  width: LEFT + whole.columns.length * CELL.width,
  height: TOP + whole.rows * CELL.height,
})

export interface Line {
  id: string
  path: string
  ahead: boolean
}
/** A bend lies before the next column, past the words that stand below a stop. */
const BEND = 20
/** Every stop is joined to all it comes from: to the right, then down or up in a bend before the next column. */
export function linesOf(whole: Whole): Line[] {
  const at = new Map(whole.nodes.map((stop) => [stop.id, stop]))
  return whole.nodes.flatMap((stop) =>
    stop.origins.flatMap((id) => {
      const from = at.get(id)
      if (!from) return []
      const [x1, y1, x2, y2] = [xOf(from), yOf(from), xOf(stop), yOf(stop)]
      const path =
        y1 === y2
          ? `M${x1} ${y1}H${x2}`
          : `M${x1} ${y1}H${x1 + CELL.width - 2.5 * BEND}c${BEND} 0 ${BEND} ${y2 - y1} ${2 * BEND} ${y2 - y1}H${x2}`
      return [{ id: `${id} ${stop.id}`, path, ahead: stop.open }]
    }),
  )
}

export interface Branch {
  stop: Stop
  level: number
  /** Other lines that it joins as well, by their names. */
  joins: string[]
}
/** The chain read from left to right, each stop under the first it comes from. */
export function treeOf(whole: Whole): Branch[] {
  const names = new Map(whole.nodes.map((stop) => [stop.id, stop.name]))
  const below = new Map<string, Stop[]>()
  for (const stop of whole.nodes) {
    const first = stop.origins[0] ?? ''
    below.set(first, [...(below.get(first) ?? []), stop])
  }
  const found: Branch[] = []
  function walk(id: string, level: number): void {
    for (const stop of below.get(id) ?? []) {
      const joins = stop.origins.slice(1).map((other) => names.get(other) ?? '')
      found.push({ stop, level, joins: joins.filter(Boolean) })
      walk(stop.id, level + 1)
    }
  }
  walk('', 1)
  return found
}

/** The stop that an arrow leads to from one: the nearest in that direction, in the row first. */
export function towards(whole: Whole, from: Stop, key: string): Stop | null {
  const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[key]
  if (!step) return null
  const [dx = 0, dy = 0] = step
  const far = (stop: Stop) => {
    const x = (stop.column - from.column) * dx
    const y = (stop.row - from.row) * dy
    const aside = dx ? Math.abs(stop.row - from.row) : Math.abs(stop.column - from.column)
    const ahead = dx ? x : y
    return ahead > 0 ? ahead + aside * 1.5 : Infinity
  }
  const ranked = whole.nodes.filter((stop) => far(stop) < Infinity)
  ranked.sort((one, other) => far(one) - far(other))
  return ranked[0] ?? null
}
