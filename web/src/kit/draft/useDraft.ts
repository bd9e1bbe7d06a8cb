/**
 * One draft store per open document: a page that comes back before its last save is through takes
 * the same store up again. The store leaves with its page, and its draft is kept when the window goes.
 */
import { useEventListener } from '@vueuse/core'
import { onScopeDispose } from 'vue'
import { createDraft } from './draftStore'
import type { DraftPlan, DraftStore, Stored } from './types'

/** What a page hears of its store while it is there. */
type Hears<S, A> = Pick<DraftPlan<S, A & { version: number }>, 'saved' | 'touched'>
interface Entry {
  store: DraftStore<unknown>
  pages: number
  hears: Hears<unknown, unknown>
}
const entries = new Map<string, Entry>()

/**
 * @param name the person and the document, as `7:quote-12`
 * @param plan how it is saved and read; knows nothing of the page
 */
export function useDraft<S, A extends { version: number }>(
  name: string,
  start: Stored<S>,
  plan: DraftPlan<S, A>,
  hears: Hears<S, A> = {},
): DraftStore<S> {
  const entry = entries.get(name) ?? open(name, start, plan)
  entry.pages += 1
  entry.hears = hears as Hears<unknown, unknown>
  const store = entry.store as DraftStore<S>
  store.stay()
  store.offer(start)

  useEventListener(window, 'pagehide', () => store.keep())
  useEventListener(window, 'online', () => void store.flush())
  useEventListener(window, 'beforeunload', (event: BeforeUnloadEvent) => {
    void store.flush()
    if (store.unkept.value) event.preventDefault()
  })
  onScopeDispose(() => {
    entry.pages -= 1
    if (entry.pages) return
    entry.hears = {}
    void store.leave().finally(() => {
      if (!entry.pages && entries.get(name) === entry) entries.delete(name)
    })
  })
  return store
}

function open<S, A extends { version: number }>(
  name: string,
  start: Stored<S>,
  plan: DraftPlan<S, A>,
): Entry {
  const entry = { pages: 0, hears: {} } as Entry
  entry.store = createDraft(start, {
    ...plan,
    saved(answer: A, state: S, of: number) {
      plan.saved?.(answer, state, of)
      ;(entry.hears as Hears<S, A>).saved?.(answer, state, of)
    },
    touched(of: number) {
      plan.touched?.(of)
      entry.hears.touched?.(of)
    },
  }) as DraftStore<unknown>
  entries.set(name, entry)
  return entry
}
