/** Targets as typed: by who is to win it and month, read once they are kept. */
import type { Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import { readNumber } from '@/kit/format/readNumber'
import { monthName } from './months'

export type Targets = Shapes['TargetsOut']
export type TargetRow = Shapes['TargetsOf']
type Row = Shapes['TargetIn']
type Subject = Pick<TargetRow, 'owner_id' | 'team_id' | 'group_id'>
/** By cell, what stands in it. */
export type Typed = Record<string, string>

const keyOf = ({ owner_id, team_id, group_id }: Subject) =>
  [owner_id, team_id, group_id].map((id) => id ?? '').join(':')
export const cellOf = (of: Subject, month: string) => `${keyOf(of)} ${month}`

/** What a row, and a cell of it, is called. */
export const nameOf = ({ person, team, group }: TargetRow) =>
  person || (group ? `${team}, ${group}` : team)
export const inMonth = (row: TargetRow, month: string) => ({
  name: nameOf(row),
  month: monthName(month.slice(0, 7)),
})

/** What changes, and the first cell that cannot be read. An emptied cell takes its target away. */
export function changesOf(known: Targets, typed: Typed) {
  const rows: Row[] = []
  let unread: { row: TargetRow; month: string } | null = null
  for (const row of known.rows) {
    const { owner_id, team_id, group_id } = row
    for (const { month, amount, version } of row.targets) {
      const text = typed[cellOf(row, month)]?.trim()
      if (text === undefined) continue
      const read = text ? readNumber(text) : { value: '0' }
      if (!read || !('value' in read)) {
        unread ??= { row, month }
        continue
      }
      const now = Number(read.value) ? read.value : null
      if (Number(now ?? 0) === Number(amount ?? 0)) continue
      rows.push({ owner_id, team_id, group_id, month, amount: now, version })
    }
  }
  return { rows, unread }
}

/** What is pasted from a sheet, from a cell on: rows by line, months by tab. What does not fit is left out. */
export function pasted(rows: TargetRow[], from: TargetRow, month: string, text: string): Typed {
  const at = rows.indexOf(from)
  const column = from.targets.findIndex((each) => each.month === month)
  const lines = text.replace(/\r/g, '').replace(/\n$/, '').split('\n')
  const found: Typed = {}
  lines.forEach((line, down) =>
    line.split('\t').forEach((value, right) => {
      const row = rows[at + down]
      const cell = row?.targets[column + right]
      if (row && cell) found[cellOf(row, cell.month)] = value.trim()
    }),
  )
  return found
}

/** Amounts that somebody else proposes, as if they were typed. */
export const typedOf = (rows: Shapes['ProposedTarget'][]): Typed =>
  Object.fromEntries(rows.map((row) => [cellOf(row, row.month), figure(row.amount)]))
