/**
 * Hits for the letters typed, as they come; Enter before the answer waits for it, so that what is
 * chosen is always a hit for the letters that stand there.
 */
import { computed, onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue'
import { asFault, type Fault } from '@/api/fault'

const PAUSE_MS = 150

export function useLookup<Hit>(given: {
  words: Ref<string>
  /** How many letters it takes. */
  least?: number
  pauseMs?: number
  ask: (words: string, signal: AbortSignal) => Promise<Hit[]>
  /** Hits of one's own, at once. */
  own?: (words: string) => Hit[]
  chosen: (hit: Hit) => void
}) {
  const found = shallowRef<{ of: string; hits: Hit[] }>({ of: '', hits: [] })
  const error = shallowRef<Fault | null>(null)
  const at = ref(0)
  const waits = ref(false)
  /** Whether a hit was pointed at, by arrows or mouse: it stays that one, whatever comes in above it. */
  let pointed = false
  const term = computed(() => given.words.value.trim())
  /** Whether the hits are those of the letters that stand there now. */
  const settled = computed(
    () => found.value.of === term.value || term.value.length < (given.least ?? 1),
  )
  const hits = computed(() =>
    term.value
      ? [...(settled.value ? found.value.hits : []), ...(given.own?.(term.value) ?? [])]
      : [],
  )
  let timer: ReturnType<typeof setTimeout> | undefined
  let asking: AbortController | undefined

  async function ask(of: string): Promise<void> {
    asking?.abort()
    const mine = (asking = new AbortController())
    try {
      const answer = await given.ask(of, mine.signal)
      if (mine.signal.aborted) return
      error.value = null
      found.value = { of, hits: answer }
      if (pointed) at.value += answer.length
      if (waits.value) choose()
    } catch (problem) {
      if (mine.signal.aborted) return
      waits.value = false
      error.value = asFault(problem)
    }
  }
  watch(term, (now) => {
    at.value = 0
    pointed = false
    waits.value = false
    error.value = null
    clearTimeout(timer)
    asking?.abort()
    if (now.length >= (given.least ?? 1)) {
      timer = setTimeout(() => void ask(now), given.pauseMs ?? PAUSE_MS)
    } else found.value = { of: '', hits: [] }
  })
  onScopeDispose(() => {
    clearTimeout(timer)
    asking?.abort()
  })

  function take(hit: Hit | undefined): void {
    waits.value = false
    if (hit !== undefined) given.chosen(hit)
  }
  /** Take the hit pointed at; before the answer is there, as soon as it is. */
  function choose(): void {
    if (!term.value) return
    if (settled.value || pointed || error.value) take(hits.value[at.value])
    else waits.value = true
  }
  function step(by: number): void {
    pointed = true
    at.value = Math.min(Math.max(at.value + by, 0), Math.max(hits.value.length - 1, 0))
  }
  function point(n: number): void {
    pointed = true
    at.value = n
  }
  return { hits, at, settled, error, choose, take, step, point }
}
