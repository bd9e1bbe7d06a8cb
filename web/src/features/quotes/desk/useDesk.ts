/**
 * The quote desk's state: what was typed, what it comes to, and its way to the server.
 *
 * What is typed is priced at once, without being stored, and saved when the typing pauses; an answer
 * to an older state than is shown is not shown. An act carries the mark of the answer on the screen.
 */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, shallowRef, toRaw, watch, type Ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { me } from '@/api/session'
import { keptDraft } from '@/kit/draft/keptDraft'
import { useDraft } from '@/kit/draft/useDraft'
import { todayIso } from '@/kit/format/format'
import type { DeskLine } from '@/parts/line/line'
import { readRevision, revisionKey } from '@/features/quotes/queries'
import {
  answerOf,
  quoteAfter,
  SHAPE,
  storedOf,
  typedOf,
  type DeskFields,
  type QuoteState,
} from './draftShape'
import { reuse, withQuick } from './mergeAnswers'
import { useLivePrice } from './useLivePrice'

export type Desk = ReturnType<typeof useDesk>

export function useDesk(quote: Ref<Shapes['QuoteOut']>) {
  const client = useQueryClient()
  const { id } = quote.value
  const person = me.value?.id ?? 0
  // The raw object: to compare hundreds of lines through reactive proxies costs 70 ms a key.
  const raw = () => toRaw(quote.value)
  const answer = shallowRef(answerOf(raw()))
  /** The lines whose trails are in sight. */
  const trails = ref<string[]>([])
  /** The number of the state whose answer is shown. */
  let shownOf = -1

  const store = useDraft<QuoteState, Shapes['Answer']>(
    `${person}:quote-${id}`,
    storedOf(raw()),
    {
      kept: keptDraft(person, `quote-${id}`, SHAPE),
      save: (state, version) =>
        take(
          api.PUT('/api/revisions/{revision_id}', {
            params: { path: { revision_id: id } },
            body: { version, ...typedOf(state) },
          }),
        ),
      read: async () => {
        const fresh = await readRevision(id)
        client.setQueryData(revisionKey(id), fresh)
        return storedOf(fresh)
      },
      saved: (answered, sent) =>
        client.setQueryData<Shapes['QuoteOut']>(revisionKey(id), (before) =>
          before ? quoteAfter(before, sent, answered) : before,
        ),
    },
    {
      saved(answered, _, of) {
        if (of >= shownOf) {
          shownOf = of
          answer.value = reuse(answer.value, answered)
        } else {
          const { priced, problems, mark } = answer.value
          answer.value = { ...answered, priced, problems, mark }
        }
      },
      touched: () => live.ask(),
    },
  )
  const live = useLivePrice(
    id,
    () => ({ of: store.now(), typed: { ...typedOf(store.state.value), trails: trails.value } }),
    (found, of) => {
      if (of <= shownOf || !store.open.value) return
      shownOf = of
      answer.value = withQuick(answer.value, found)
    },
  )
  watch(trails, live.ask)
  if (store.saving.value !== 'saved') live.ask()

  /** How the server has it came anew: taken over where nothing is on its way, else left to the save. */
  watch(quote, () => {
    const taken = store.offer(storedOf(raw()))
    const same = store.saving.value === 'saved' && quote.value.version === store.version()
    if (!taken && !same) return
    shownOf = store.now()
    answer.value = reuse(answer.value, answerOf(raw()))
  })

  const set = (next: Partial<QuoteState>, step?: string) =>
    store.change({ ...store.state.value, ...next }, step)

  return {
    lines: computed(() => store.state.value.lines),
    fields: computed(() => store.state.value.fields),
    answer,
    trails,
    saving: store.saving,
    fault: store.fault,
    unkept: store.unkept,
    orphan: store.orphan,
    letOrphanGo: () => {
      store.orphan.value = null
    },
    canUndo: store.canUndo,
    canRedo: store.canRedo,
    undo: store.undo,
    redo: store.redo,
    flush: store.flush,
    saveMine: store.saveMine,
    takeTheirs: store.takeTheirs,
    forget: store.forget,
    version: store.version,
    /** Changes of one `step`, as the keys of one figure, are taken back together. */
    setLines: (lines: DeskLine[], step?: string) => set({ lines }, step),
    setFields: (next: Partial<DeskFields>) =>
      set({ fields: { ...store.state.value.fields, ...next } }),
    /** Price the draft as of today; until then it keeps the prices of its day. */
    priceToday: () => set({ pricedOn: todayIso() }),
    /** What is on the screen, for an act on it. */
    seen: () => ({ mark: answer.value.mark, payable: answer.value.priced.totals.payable }),
  }
}
