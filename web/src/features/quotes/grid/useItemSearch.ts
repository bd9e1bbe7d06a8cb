/** Items by the letters typed: the hits, the chosen one, and those marked to be taken together. */
import { shallowRef, type Ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { useLookup } from '@/kit/form/useLookup'

export type Item = Shapes['ItemOut']
const PAUSE_MS = 60
const MOST = 9

/**
 * @param words the letters, empty while nothing is looked for
 * @param taken what becomes of the items that were chosen
 * @param afterMark what follows when one was marked
 */
export function useItemSearch(
  words: Ref<string>,
  taken: (items: Item[]) => void,
  afterMark: () => void,
) {
  const marked = shallowRef<Item[]>([])
  const isMarked = (item: Item) => marked.value.some((each) => each.id === item.id)
  let marks = false
  const look = useLookup<Item>({
    words,
    pauseMs: PAUSE_MS,
    ask: (asked, signal) =>
      take(api.GET('/api/items', { params: { query: { words: asked, most: MOST } }, signal })),
    chosen: (item) => (marks ? mark(item) : add(item)),
  })
  /** Take the chosen one, or mark it; marked ones are taken together. */
  function choose(act: 'add' | 'mark'): void {
    marks = act === 'mark'
    if (act === 'add' && marked.value.length) add(undefined)
    else look.choose()
  }
  function mark(item: Item): void {
    marked.value = isMarked(item)
      ? marked.value.filter((each) => each.id !== item.id)
      : [...marked.value, item]
    afterMark()
  }
  function add(item: Item | undefined): void {
    const items = marked.value.length ? marked.value : item ? [item] : []
    marked.value = []
    if (items.length) taken(items)
  }
  const letGo = () => {
    marked.value = []
  }
  return { ...look, marked, isMarked, choose, mark, add, letGo }
}
