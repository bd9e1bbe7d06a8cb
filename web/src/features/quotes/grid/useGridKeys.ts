/** Keys, presses and pastes in the line grid: what each of them does. */
import { nextTick } from 'vue'
import { gridAct, type GridAct } from '@/kit/grid/gridKeys'
import { cellOf } from '@/kit/grid/useCursor'
import { FRESH, ITEM, DISCOUNT, UNIT, WHAT } from './cells'
import type { LineActs } from './useLineGrid'

export function useGridKeys(
  grid: LineActs,
  editable: () => boolean,
  paste: (text: string, at: number) => void,
) {
  const { cursor, editor, search } = grid

  /** What changes a line; false where it cannot be done here. */
  function change(act: GridAct): boolean {
    const row = cursor.row.value
    const line = grid.lineOf(cursor.at.value.key)
    if (!editable()) return false
    if (act.does === 'letter') return grid.letter(act.letter, row)
    if (!line) return false
    if (act.does === 'shift') grid.shift(act.by)
    else if (act.does === 'remove') grid.remove(row)
    else if (act.does === 'clear') grid.clear(cursor.at.value)
    else return false
    return true
  }
  /** What moves, opens or folds. */
  function move(act: GridAct): boolean {
    const row = cursor.row.value
    if (act.does === 'move') cursor.goRow(row + act.rows)
    else if (act.does === 'next') grid.next(act.by)
    else if (act.does === 'home') cursor.goRow(act.far ? 0 : row, ITEM)
    else if (act.does === 'end') cursor.goRow(act.far ? Infinity : row, DISCOUNT)
    else if (act.does === 'edit') grid.edit(act.start)
    else if (act.does === 'fold') grid.fold(cursor.at.value.key)
    else return false
    return true
  }
  function inCell(event: KeyboardEvent): void {
    // Only a cell's own keys: a fold's fields and buttons, and the editor, have theirs.
    if (!(event.target instanceof HTMLElement) || event.target.dataset.col === undefined) return
    const act = gridAct(event)
    if (!act || (event.key === 'Tab' && (!editable() || cursor.at.value.key === FRESH))) return
    if (move(act) || change(act)) event.preventDefault()
  }

  /** Where letters of an item are typed. */
  function whileLooking(event: KeyboardEvent, text: string): boolean {
    const upDown = UP_DOWN[event.key]
    if (upDown) search.step(upDown)
    else if (event.key === 'Enter') search.choose(event.shiftKey ? 'mark' : 'add')
    else if (event.key === 'Tab' && text.trim()) search.choose('add')
    else return false
    return true
  }
  function whileEditing(event: KeyboardEvent, col: number): boolean {
    const upDown = col === UNIT || col === WHAT ? undefined : UP_DOWN[event.key]
    if (event.key !== 'Enter' && event.key !== 'Tab' && !upDown) return false
    if (!editor.commit()) return true
    if (event.key === 'Tab') grid.next(event.shiftKey ? -1 : 1)
    else cursor.goRow(cursor.row.value + (upDown ?? 1), col)
    return true
  }
  function inEditor(event: KeyboardEvent): void {
    const now = editor.editing.value
    if (!now) return
    if (event.key === 'Escape') {
      editor.cancel()
      search.letGo()
      void nextTick(cursor.focus)
      event.preventDefault()
    } else if (now.key === FRESH ? whileLooking(event, now.text) : whileEditing(event, now.col)) {
      event.preventDefault()
    }
  }

  /** A press goes to its cell, and begins a new line; by touch, where a press may scroll, a tap edits. */
  function pressed(event: PointerEvent): void {
    const cell = cellOf(event.target)
    if (!cell || event.pointerType === 'touch') return
    if (cell.key === FRESH) event.preventDefault()
    cursor.go(cell)
    if (cell.key === FRESH) void nextTick(() => grid.edit())
  }
  function clicked(event: MouseEvent): void {
    const key = (event.target as Element).closest<HTMLElement>('[data-fold]')?.dataset.fold
    if (key !== undefined) grid.fold(key)
    const cell = (event as PointerEvent).pointerType === 'touch' ? cellOf(event.target) : null
    if (!cell) return
    cursor.go(cell)
    void nextTick(() => grid.edit())
  }
  function pressedTwice(event: MouseEvent): void {
    if (cellOf(event.target)) grid.edit()
  }
  /** Rows are looked at first; a single text goes into its cell; in the editor it is a paste of text. */
  function pasted(event: ClipboardEvent): void {
    const now = editor.editing.value
    if (!editable() || !(now || cellOf(event.target))) return
    const text = (event.clipboardData?.getData('text/plain') ?? '').trim()
    const rows = /[\t\n;]/.test(text)
    if (now && !(rows && now.key === FRESH)) return
    event.preventDefault()
    const row = cursor.row.value
    if (rows) {
      editor.cancel()
      paste(text, row)
    } else if (text) grid.edit(text)
  }
  return { inCell, inEditor, pressed, pressedTwice, clicked, pasted }
}
const UP_DOWN: Record<string, 1 | -1 | undefined> = { ArrowDown: 1, ArrowUp: -1 }
