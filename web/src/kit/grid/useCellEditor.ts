/**
 * The one editor of a grid of text cells. It owns its cell: what is typed goes into the cell where it
 * was typed, wherever the person went meanwhile. Text that cannot be read stays in its cell, with the
 * reason, until it is mended or taken back, also while the page is left and come back to; nothing typed
 * is dropped and nothing else is changed.
 */
import { computed, shallowReactive, shallowRef, watch } from 'vue'
import type { CellAt } from './useCursor'

export interface Editing extends CellAt {
  text: string
  /** The text that it opened with. */
  from: string
  reason: string
  /** Whether it opened with a first letter, which the next one follows. */
  begun: boolean
  /** Tells one opening from another: the keys of one are taken back together. */
  session: string
}
export interface Refused extends CellAt {
  text: string
  reason: string
}

export interface CellRules {
  /** The text that a cell opens with; undefined where it cannot be edited. */
  textOf: (cell: CellAt) => string | undefined
  /** Take a text in, where it can be read; else the reason. */
  take: (cell: CellAt, text: string, session: string) => string | null
  /** The text changed while it is typed. */
  typed?: (cell: CellAt, text: string, session: string) => void
  /** It is left as it was. */
  left?: (cell: CellAt, session: string) => void
}

let sessions = 0

/** What was refused before in a tab; what cannot be read is let go of. */
function before(place: string): [string, Refused][] {
  try {
    const found: unknown = JSON.parse(sessionStorage.getItem(place) ?? '[]')
    return Array.isArray(found) ? (found as [string, Refused][]) : []
  } catch {
    return []
  }
}

/** @param place where a tab keeps what was refused, of one person and document; empty: nowhere */
export function useCellEditor(rules: CellRules, place = '') {
  const editing = shallowRef<Editing | null>(null)
  const refused = shallowReactive(new Map<string, Refused>(place ? before(place) : []))
  watch(refused, (now) => {
    if (!place) return
    try {
      if (now.size) sessionStorage.setItem(place, JSON.stringify([...now]))
      else sessionStorage.removeItem(place)
    } catch {
      // No room: it stands on the screen all the same.
    }
  })
  const nameOf = (cell: CellAt) => `${cell.key}:${cell.col}`

  /** Open a cell, with a first letter or with its text; false where it cannot be edited. */
  function open(cell: CellAt, start?: string): boolean {
    if (editing.value) leave()
    const from = rules.textOf(cell)
    if (from === undefined) return false
    const kept = refused.get(nameOf(cell))
    editing.value = {
      ...cell,
      text: start ?? kept?.text ?? from,
      from,
      reason: start === undefined ? (kept?.reason ?? '') : '',
      begun: start !== undefined,
      session: `cell-${(sessions += 1)}`,
    }
    if (start !== undefined) rules.typed?.(cell, start, editing.value.session)
    return true
  }
  function type(text: string): void {
    const now = editing.value
    if (!now || now.text === text) return
    editing.value = { ...now, text, reason: '' }
    rules.typed?.(now, text, now.session)
  }
  /** Take the text in; null where it was, else why it cannot be. */
  function settle(now: Editing): string | null {
    const cell = { key: now.key, col: now.col }
    const reason = now.text === now.from ? null : rules.take(cell, now.text, now.session)
    if (reason === null) refused.delete(nameOf(cell))
    return reason
  }
  /** Take it in and close; where it cannot be taken, the editor stays and says why. */
  function commit(): boolean {
    const now = editing.value
    if (!now) return true
    const reason = settle(now)
    editing.value = reason === null ? null : { ...now, reason }
    return reason === null
  }
  /** The person went elsewhere: it is taken in, or stays in its cell as refused. */
  function leave(): void {
    const now = editing.value
    if (!now) return
    const reason = settle(now)
    if (reason !== null) {
      refused.set(nameOf(now), { key: now.key, col: now.col, text: now.text, reason })
    }
    editing.value = null
  }
  /** Leave the cell as it was. */
  function cancel(): void {
    const now = editing.value
    if (!now) return
    refused.delete(nameOf(now))
    editing.value = null
    rules.left?.({ key: now.key, col: now.col }, now.session)
  }
  /** Take back what was refused in a cell. */
  function forgive(cell: CellAt): boolean {
    return refused.delete(nameOf(cell))
  }
  /** What was refused, but for rows that are gone. */
  function standing(keys: readonly string[]): Refused[] {
    const there = new Set(keys)
    return [...refused.values()].filter((each) => there.has(each.key))
  }
  return {
    editing: computed(() => editing.value),
    refused,
    open,
    type,
    commit,
    leave,
    cancel,
    forgive,
    standing,
    refusedIn: (cell: CellAt) => refused.get(nameOf(cell)),
  }
}
