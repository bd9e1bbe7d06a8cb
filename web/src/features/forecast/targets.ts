/** Targets as typed: by person and month, read once they are kept. */
import type { Shapes } from '@/api/client'
import { readNumber } from '@/kit/format/readNumber'

export type Targets = Shapes['TargetsOut']
type Row = Shapes['TargetIn']
/** By `person month`, what stands in its cell. */
export type Typed = Record<string, string>

export const cellOf = (person: number, month: string) => `${person} ${month}`

/** What changes, and the first cell that cannot be read. An emptied cell takes its target away. */
export function changesOf(known: Targets, typed: Typed): { rows: Row[]; unread: string | null } {
  const rows: Row[] = []
  let unread: string | null = null
  for (const { id, targets } of known.people) {
    for (const { month, amount, version } of targets) {
      const cell = cellOf(id, month)
      const text = typed[cell]?.trim()
      if (text === undefined) continue
      const read = text ? readNumber(text) : { value: '0' }
      if (!read || !('value' in read)) {
        unread ??= cell
        continue
      }
      const now = Number(read.value) ? read.value : null
      if (Number(now ?? 0) === Number(amount ?? 0)) continue
      rows.push({ owner_id: id, month, amount: now, version })
    }
  }
  return { rows, unread }
}

/** What is pasted from a sheet, from a cell on: rows by line, months by tab. What does not fit is left out. */
export function pasted(known: Targets, from: string, text: string): Typed {
  const [id = '', month = ''] = from.split(' ')
  const row = known.people.findIndex((each) => String(each.id) === id)
  const column = known.months.indexOf(month)
  const found: Typed = {}
  if (row < 0 || column < 0) return found
  const lines = text.replace(/\r/g, '').replace(/\n$/, '').split('\n')
  lines.forEach((line, down) =>
    line.split('\t').forEach((value, right) => {
      const person = known.people[row + down]
      const at = known.months[column + right]
      if (person && at) found[cellOf(person.id, at)] = value.trim()
    }),
  )
  return found
}
