/** The columns of a list: which there are, which are seen, in this browser or by a kept view. */
import { useLocalStorage } from '@vueuse/core'
import { computed, type ComputedRef, type Ref } from 'vue'

export interface Column {
  /** The row's field; also the slot of its cell and the column of the export. */
  key: string
  label: string
  /** The fields it stands for in a file, with commas between, where they are not its key. */
  fields?: string
  /** What the server sorts by, where it can. */
  sort?: string
  num?: boolean
  soft?: boolean
  /** Seen only where it is chosen. */
  extra?: boolean
  /** Cannot be taken away: it opens the record. */
  fixed?: boolean
}

export interface Columns {
  all: ComputedRef<Column[]>
  seen: ComputedRef<Column[]>
  /** The keys that are chosen; empty for the usual ones. */
  chosen: Ref<string[]>
  toggle: (key: string) => void
  /** Choose these; none for the usual ones. */
  choose: (keys: string[]) => void
}

export function useColumns(place: string, columns: () => Column[]): Columns {
  const chosen = useLocalStorage<string[]>(`vivid-columns-${place}`, [])
  const all = computed(columns)
  const seen = computed(() => {
    const keys = new Set(chosen.value)
    return all.value.filter((column) =>
      keys.size ? column.fixed || keys.has(column.key) : !column.extra,
    )
  })
  function toggle(key: string): void {
    const keys = new Set(seen.value.map((column) => column.key))
    if (!keys.delete(key)) keys.add(key)
    chosen.value = all.value.map((column) => column.key).filter((each) => keys.has(each))
  }
  const choose = (keys: string[]): void => {
    chosen.value = keys
  }
  return { all, seen, chosen, toggle, choose }
}
