/** The keys of the quote desk; those of the lines act in the grid and are shown here. */
import type { Ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Shapes } from '@/api/client'
import { useKeys } from '@/kit/keys/useKeys'
import { ordering } from '@/features/quotes/ordering'
import { t } from '@/words'
import type { Panel } from './QuotePanels.vue'

export function useQuoteKeys(given: {
  draft: Ref<boolean>
  quote: Ref<Shapes['QuoteOut']>
  undo: () => void
  redo: () => void
  open: (panel: Panel) => void
}): void {
  const router = useRouter()
  const drafting = (act: () => void) => () => given.draft.value && act()
  function next(): void {
    const { state, newest } = given.quote.value
    if (state === 'draft') given.open('issue')
    else if ((state === 'issued' || state === 'part_ordered') && newest) {
      void router.push(ordering(given.quote.value.id))
    }
  }
  useKeys(() => ({
    title: t('desk.keys.lines'),
    keys: (
      [
        ['A…Z', 'desk.keys.letters'],
        ['Shift Enter', 'desk.keys.mark'],
        ['Enter', 'desk.keys.enter'],
        ['Tab, Shift Tab', 'desk.keys.tab'],
        ['← ↑ → ↓ Home End', 'desk.keys.move'],
        ['F2', 'desk.keys.edit'],
        ['Delete', 'desk.keys.clear'],
        ['Alt ↓', 'desk.keys.fold'],
        ['Ctrl Shift ↑ ↓', 'desk.keys.shift'],
        ['Ctrl Delete', 'desk.keys.remove'],
        ['Alt A, Alt O', 'desk.keys.kind'],
        ['Alt H, Alt N', 'desk.keys.words'],
        ['Alt P', 'desk.keys.promise'],
      ] as const
    ).map(([keys, does]) => ({ keys, does: t(does) })),
  }))
  useKeys(() => ({
    title: t('desk.keys.whole'),
    keys: [
      { keys: 'Ctrl V', does: t('desk.keys.paste') },
      { keys: 'Alt L', does: t('desk.keys.earlier'), act: drafting(() => given.open('earlier')) },
      { keys: 'Alt R', does: t('desk.keys.regulars'), act: drafting(() => given.open('regulars')) },
      { keys: 'Alt S', does: t('desk.keys.solve'), act: drafting(() => given.open('solve')) },
      { keys: 'Ctrl Z', does: t('desk.keys.undo'), act: drafting(given.undo) },
      { keys: 'Ctrl Shift Z, Ctrl Y', does: t('desk.keys.redo'), act: drafting(given.redo) },
      { keys: 'Ctrl Enter', does: t('desk.keys.next'), act: next, whileTyping: true },
    ],
  }))
}
