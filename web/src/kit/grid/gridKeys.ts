/** What a key does in a cell of a grid, while nothing is edited. */

export type GridAct =
  | { does: 'move'; rows: number }
  | { does: 'next'; by: 1 | -1 }
  | { does: 'home' | 'end'; far: boolean }
  | { does: 'edit'; start?: string }
  | { does: 'fold' }
  | { does: 'shift'; by: 1 | -1 }
  | { does: 'remove' }
  | { does: 'clear' }
  /** A letter with Alt, by its place on the keyboard. */
  | { does: 'letter'; letter: string }

type Keys = Pick<KeyboardEvent, 'key' | 'code' | 'ctrlKey' | 'metaKey' | 'shiftKey' | 'altKey'>

/** The act of a stroke; null where the page may have it. */
export function gridAct(event: Keys): GridAct | null {
  const { key } = event
  const ctrl = event.ctrlKey || event.metaKey
  if (key === 'ArrowUp' || key === 'ArrowDown') {
    const by = key === 'ArrowDown' ? 1 : -1
    if (event.altKey) return { does: 'fold' }
    if (ctrl) return event.shiftKey ? { does: 'shift', by } : null
    return { does: 'move', rows: by }
  }
  if (event.altKey) {
    const letter = /^Key([A-Z])$/.exec(event.code)?.[1] ?? (/^[a-z]$/i.test(key) ? key : '')
    return letter && !ctrl ? { does: 'letter', letter: letter.toUpperCase() } : null
  }
  if (key === 'Home' || key === 'End') {
    return { does: key === 'Home' ? 'home' : 'end', far: ctrl }
  }
  if (key === 'Delete') return { does: ctrl ? 'remove' : 'clear' }
  if (ctrl) return null
  if (key === 'ArrowLeft' || key === 'ArrowRight') {
    return { does: 'next', by: key === 'ArrowRight' ? 1 : -1 }
  }
  if (key === 'Tab') return { does: 'next', by: event.shiftKey ? -1 : 1 }
  if (key === 'Enter' || key === 'F2') return { does: 'edit' }
  if (key.length === 1 && key !== '?' && key !== ' ') return { does: 'edit', start: key }
  return null
}
