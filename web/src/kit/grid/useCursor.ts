/**
 * Where one is in a grid of text cells. A cell is found by its row's own key, so that the cursor
 * stays with its row when rows move; where the row goes, it stays at its place.
 *
 * In the page a row carries `data-row` and a cell `data-col`; only what carries both is a cell.
 */
import { computed, nextTick, ref, watch, type Ref } from 'vue'
import { useStaysInSight } from './useStaysInSight'

export interface CellAt {
  key: string
  col: number
}

/** The cell that an event comes from; null for all that is no cell. */
export function cellOf(target: EventTarget | null): CellAt | null {
  const cell = target instanceof Element ? target.closest<HTMLElement>('[data-col]') : null
  const key = cell?.closest<HTMLElement>('[data-row]')?.dataset.row
  const col = Number(cell?.dataset.col)
  return key !== undefined && Number.isInteger(col) ? { key, col } : null
}

/**
 * @param keys the rows' keys in their order
 * @param snap where a step to a cell really leads, as a row that has one cell only
 */
export function useCursor(
  wrap: Ref<HTMLElement | undefined>,
  keys: () => string[],
  snap: (at: CellAt) => CellAt = (at) => at,
) {
  const at = ref<CellAt>({ key: keys()[0] ?? '', col: 0 })
  const row = computed(() => keys().indexOf(at.value.key))
  let lastRow = 0

  function element(cell: CellAt = at.value): HTMLElement | null {
    return (
      wrap.value?.querySelector<HTMLElement>(
        `[data-row="${CSS.escape(cell.key)}"] [data-col="${cell.col}"]`,
      ) ?? null
    )
  }
  /** Go to a cell and put the focus on it, in sight. */
  function go(to: CellAt): void {
    at.value = snap(to)
    lastRow = row.value
    void nextTick(focus)
  }
  function focus(): void {
    const cell = element()
    cell?.focus()
    cell?.scrollIntoView?.({ block: 'nearest', inline: 'nearest' })
  }
  function goRow(to: number, col: number = at.value.col): void {
    const all = keys()
    const key = all[Math.min(Math.max(to, 0), all.length - 1)]
    if (key !== undefined) go({ key, col })
  }
  // A row that is taken away takes the focus with it: on to what stands in its place.
  watch(keys, (now, before) => {
    if (now.includes(at.value.key)) {
      lastRow = row.value
      return
    }
    const inside = wrap.value?.contains(document.activeElement) ?? false
    const lost = inside || document.activeElement === document.body
    const key = now[Math.min(Math.max(lastRow, 0), now.length - 1)] ?? ''
    at.value = snap({ key, col: at.value.col })
    lastRow = row.value
    if (lost && before.length) void nextTick(focus)
  })
  useStaysInSight(() => element())
  return { at, row, element, go, goRow, focus }
}
