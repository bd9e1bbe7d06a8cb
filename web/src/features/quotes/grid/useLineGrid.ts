/** The line grid's cursor, editor, item search and folds, and what is done to lines through them. */
import { computed, nextTick, ref, watch, type Ref } from 'vue'
import type { Shapes } from '@/api/client'
import { useCellEditor, type Refused } from '@/kit/grid/useCellEditor'
import { useCursor, type CellAt } from '@/kit/grid/useCursor'
import { type DeskLine, newLine, wordsOnly } from '@/parts/line/line'
import { DISCOUNT, FRESH, ITEM, PRICE, QUANTITY, UNIT, unitOf, WHAT } from './cells'
import { changed, moved, withKind, withWords, without } from './lineActs'
import { useItemSearch, type Item } from './useItemSearch'
import { useLineRules } from './useLineRules'

export type LineActs = ReturnType<typeof useLineGrid>

export function useLineGrid(given: {
  wrap: Ref<HTMLElement | undefined>
  lines: () => DeskLine[]
  priced: (key: string) => Shapes['PricedOut']['lines'][number] | undefined
  currency: () => string
  digits: () => number
  editable: () => boolean
  /** New lines; changes of one `step` are taken back together. */
  change: (lines: DeskLine[], step?: string) => void
  folded: (keys: string[]) => void
  afterMark: () => void
  place?: string | undefined
  /** Take the first of what else could be done about a line's promise. */
  take?: (key: string) => void
}) {
  const { lines, editable, change } = given
  const folded = ref(new Set<string>())
  const keys = computed(() => [...lines().map((line) => line.key), ...(editable() ? [FRESH] : [])])
  const lineOf = (key: string) => lines().find((line) => line.key === key)
  function put(key: string, to: Partial<DeskLine>, step?: string): void {
    const row = lines().findIndex((line) => line.key === key)
    if (editable()) change(changed(lines(), row, to), step)
  }

  const cursor = useCursor(
    given.wrap,
    () => keys.value,
    (to) => {
      const line = lineOf(to.key)
      if (!line) return { key: to.key, col: ITEM }
      return wordsOnly(line) ? { key: to.key, col: WHAT } : to
    },
  )
  const editor = useCellEditor(
    useLineRules({
      lineOf,
      facts: (key) => ({
        currency: given.currency(),
        digits: given.digits(),
        priced: given.priced(key),
      }),
      editable,
      put,
    }),
    given.place,
  )
  const { editing } = editor

  // ---- looking an item up -----------------------------------------------------------------
  const words = computed(() => (editing.value?.key === FRESH ? editing.value.text.trim() : ''))
  const search = useItemSearch(words, addItems, given.afterMark)
  /** Go to a cell and open it, once its row is there. */
  function openAt(cell: CellAt): void {
    void nextTick(() => {
      cursor.go(cell)
      void nextTick(() => editor.open(cell))
    })
  }
  /** Take items in; on to the quantity of the first. */
  function addItems(items: Item[]): void {
    editor.cancel()
    const fresh = items.map((each) => newLine(each))
    change([...lines(), ...fresh])
    if (fresh[0]) openAt({ key: fresh[0].key, col: QUANTITY })
  }

  // ---- moving and editing -----------------------------------------------------------------
  function edit(start?: string): void {
    const { key, col } = cursor.at.value
    const line = lineOf(key)
    // A letter in the unit's cell means the unit that begins with it.
    const first = start && line && col === UNIT ? unitOf(line, start) : start
    if (editor.open({ key, col }, first)) search.letGo()
  }
  function next(by: 1 | -1): void {
    const { key, col } = cursor.at.value
    const line = lineOf(key)
    if (!line) return
    const row = cursor.row.value
    const to = col + by
    if (wordsOnly(line)) cursor.goRow(row + by, by > 0 ? QUANTITY : DISCOUNT)
    else if (to > DISCOUNT) cursor.goRow(row + 1, QUANTITY)
    else if (to < ITEM) cursor.goRow(row - 1, DISCOUNT)
    else cursor.go({ key, col: to })
  }
  function shift(by: 1 | -1): void {
    const rows = moved(lines(), cursor.row.value, by)
    if (!rows) return
    change(rows)
    void nextTick(cursor.focus)
  }
  /** Put a heading or a note above a line, and write on it. */
  function addWords(row: number, kind: 'heading' | 'note'): void {
    const rows = withWords(lines(), row, kind)
    change(rows)
    openAt({ key: rows[row]?.key ?? FRESH, col: WHAT })
  }
  function setKind(row: number, kind: 'alternative' | 'optional'): void {
    const rows = withKind(lines(), row, kind)
    if (rows) change(rows)
  }
  /** Alt with A, O, H, N or P; false for other letters. */
  function letter(name: string, row: number): boolean {
    if (name === 'A') setKind(row, 'alternative')
    else if (name === 'O') setKind(row, 'optional')
    else if (name === 'H') addWords(row, 'heading')
    else if (name === 'N') addWords(row, 'note')
    else if (name === 'P') given.take?.(cursor.at.value.key)
    else return false
    return true
  }
  /** Give a cell back to the rules; what could not be read in it is let go of first. */
  function clear(cell: CellAt): void {
    if (editor.forgive(cell)) return
    if (cell.col === DISCOUNT) put(cell.key, { discount_percent: null, discount_amount: null })
    if (cell.col === PRICE) put(cell.key, { price: null, price_reason: '' })
  }
  function fold(key: string): void {
    if (!lineOf(key)) return
    const open = new Set(folded.value)
    if (!open.delete(key)) open.add(key)
    folded.value = open
    given.folded([...open])
  }
  watch(keys, (now) => {
    // What is gone is not asked about any more.
    const open = [...folded.value].filter((key) => now.includes(key))
    if (open.length === folded.value.size) return
    folded.value = new Set(open)
    given.folded(open)
  })

  /** Texts that could not be read, by row and column. */
  const refused = computed(() => {
    const found = new Map<string, Record<number, Refused>>()
    for (const each of editor.refused.values()) {
      found.set(each.key, { ...found.get(each.key), [each.col]: each })
    }
    return found
  })
  /** Take in what is typed; on to the first cell that could not be read, if there is one. */
  function settle(): Refused | null {
    editor.leave()
    const first = editor.standing(lines().map((line) => line.key))[0] ?? null
    if (first) openAt(first)
    return first
  }
  const remove = (row: number) => change(without(lines(), row))

  return { cursor, editor, search, words, folded, keys, refused, lineOf, put, edit, next, shift, addWords, setKind, letter, clear, fold, remove, settle } // prettier-ignore
}
