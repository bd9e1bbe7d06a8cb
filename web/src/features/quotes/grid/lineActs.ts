/** What can be done to the lines of a draft: each gives the new lines, or null where it cannot be. */
import { type DeskLine, newLine, wordsOnly } from '@/parts/line/line'
import type { Proposal } from '@/parts/promise/usePromises'

type Extra = 'alternative' | 'optional'

export function changed(lines: DeskLine[], row: number, change: Partial<DeskLine>): DeskLine[] {
  return lines.map((line, n) => (n === row ? { ...line, ...change } : line))
}

export function without(lines: DeskLine[], row: number): DeskLine[] {
  return lines.filter((_, n) => n !== row)
}

/** A line moved by so many rows. */
export function moved(lines: DeskLine[], row: number, step: number): DeskLine[] | null {
  const to = row + step
  if (to < 0 || to >= lines.length || row >= lines.length) return null
  const next = [...lines]
  next.splice(to, 0, ...next.splice(row, 1))
  return next
}

/** A heading or a note put above a line. */
export function withWords(lines: DeskLine[], row: number, kind: 'heading' | 'note'): DeskLine[] {
  const next = [...lines]
  next.splice(row, 0, newLine(null, kind))
  return next
}

/** A line made an alternative to the counted one above it, or an option; again takes it back. */
export function withKind(lines: DeskLine[], row: number, kind: Extra): DeskLine[] | null {
  const line = lines[row]
  if (!line || wordsOnly(line)) return null
  if (line.kind === kind) return changed(lines, row, { kind: 'normal', alternative_to: '' })
  const above = lines
    .slice(0, row)
    .reverse()
    .find((each) => each.kind === 'normal')
  if (kind === 'alternative' && !above) return null
  const original = kind === 'alternative' ? (above?.key ?? '') : ''
  return changed(lines, row, { kind, alternative_to: original })
}

/** A line in two: what an agreement covers, and the rest. */
export function withSplit(
  lines: DeskLine[],
  key: string,
  covered: string,
  rest: string,
): DeskLine[] {
  return lines.flatMap((line) =>
    line.key === key
      ? [
          { ...line, quantity: covered },
          { ...line, key: crypto.randomUUID(), quantity: rest },
        ]
      : [line],
  )
}

/**
 * What a proposal about a line's promise makes of the lines: all of it later, in parts by day, from
 * another depot, another item in its place.
 *
 * @param instead the other item, where the proposal names one
 */
export function withProposal(
  lines: DeskLine[],
  key: string,
  proposal: Proposal,
  instead?: DeskLine['item'],
): DeskLine[] | null {
  const row = lines.findIndex((line) => line.key === key)
  const line = lines[row]
  if (!line) return null
  if (proposal.kind === 'whole') return changed(lines, row, { wanted_on: proposal.last })
  if (proposal.kind === 'depot') return changed(lines, row, { depot_id: proposal.depot_id })
  if (proposal.kind === 'instead') {
    const quantity = proposal.parts[0]?.quantity
    if (!instead || !quantity) return null
    const fresh = { ...newLine(instead), quantity, unit: instead.base_unit }
    const { kind, alternative_to, depot_id, wanted_on } = line
    return changed(lines, row, { ...fresh, key, kind, alternative_to, depot_id, wanted_on })
  }
  const parts = proposal.parts.map((part, n) => ({
    ...line,
    key: n ? crypto.randomUUID() : key,
    quantity: part.quantity,
    wanted_on: part.arrives,
  }))
  return [...lines.slice(0, row), ...parts, ...lines.slice(row + 1)]
}

/** The numbers as shown: 1, 2, and 2a for what hangs on 2; nothing for words. */
export function numbersOf(lines: DeskLine[]): string[] {
  let number = 0
  let letter = 0
  return lines.map((line) => {
    if (wordsOnly(line)) return ''
    if (line.kind === 'normal' || !number) {
      number += 1
      letter = 0
      return String(number)
    }
    return `${number}${String.fromCharCode(97 + (letter++ % 26))}`
  })
}
