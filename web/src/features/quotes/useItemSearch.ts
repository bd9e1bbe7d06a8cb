/** Items by the letters typed: the hits, the chosen one, and those marked to be taken together. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'

export type Item = Shapes['ItemOut']
const PAUSE_MS = 60
const MOST = 9

/**
 * @param words the letters, empty while nothing is looked for
 * @param taken what becomes of the items that were chosen with Enter
 * @param afterMark what follows when one was marked
 */
export function useItemSearch(
  words: Ref<string>,
  taken: (items: Item[]) => void,
  afterMark: () => void,
) {
  const asked = refDebounced(words, PAUSE_MS)
  const found = useQuery({
    queryKey: computed(() => ['items', asked.value]),
    queryFn: () =>
      take(api.GET('/api/items', { params: { query: { words: asked.value, most: MOST } } })),
    enabled: computed(() => asked.value.length > 0),
    staleTime: 60_000,
    placeholderData: (before) => before,
  })
  const hits = computed(() => (words.value ? (found.data.value ?? []) : []))
  const chosen = ref(0)
  const marked = shallowRef<Item[]>([])
  const isMarked = (item: Item) => marked.value.some((each) => each.id === item.id)

  /** Whether the hits are those of the letters that stand there now. */
  const settled = computed(
    () => asked.value === words.value && found.isSuccess.value && !found.isPlaceholderData.value,
  )
  /** Enter was quicker than the answer: what to do once it is there. */
  const waiting = ref<'' | 'add' | 'mark'>('')
  watch(settled, (now) => now && waiting.value && choose(waiting.value))

  /** Take the marked items, else the chosen one; or mark it. */
  function choose(act: 'add' | 'mark'): void {
    if (words.value && !settled.value) {
      waiting.value = act
      return
    }
    waiting.value = ''
    const item = hits.value[chosen.value]
    if (act === 'mark') mark(item)
    else add(item)
  }
  function mark(item: Item | undefined): void {
    if (!item) return
    marked.value = isMarked(item)
      ? marked.value.filter((each) => each.id !== item.id)
      : [...marked.value, item]
    afterMark()
  }
  function add(item: Item | undefined): void {
    const items = marked.value.length ? marked.value : item ? [item] : []
    if (!items.length) return
    marked.value = []
    taken(items)
  }
  /** The next or the one before. */
  function step(by: number): void {
    chosen.value = Math.min(Math.max(chosen.value + by, 0), hits.value.length - 1)
  }
  const point = (n: number) => {
    chosen.value = n
  }
  /** The letters changed: the first hit again, and no Enter waits. */
  function anew(): void {
    chosen.value = 0
    waiting.value = ''
  }
  const letGo = () => {
    marked.value = []
  }
  return { hits, chosen, marked, isMarked, found, choose, mark, add, step, point, anew, letGo }
}
