/** What can be promised of the draft's lines, and taking what else could be done. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { api, take as taken, type Shapes } from '@/api/client'
import { useAct } from '@/kit/act/useAct'
import { say } from '@/kit/act/notices'
import type { DeskLine } from '@/parts/line/line'
import { usePromises, type Proposal } from '@/parts/promise/usePromises'
import { t } from '@/words'
import { withProposal } from '@/features/quotes/grid/lineActs'
import type { DeskFields } from './draftShape'

const ANSWERED = ['ordered', 'part_ordered', 'declined']

export function usePromising(
  quote: Ref<Shapes['QuoteOut']>,
  lines: Ref<DeskLine[]>,
  fields: Ref<DeskFields>,
  set: (lines: DeskLine[]) => void,
  undo: () => void,
) {
  const { found, byKey, unknown } = usePromises(
    computed(() => quote.value.id),
    // What was ordered is promised to its orders; what stays open, where it is ordered.
    computed(() => (ANSWERED.includes(quote.value.state) ? [] : lines.value)),
    computed(() => fields.value),
  )
  const client = useQueryClient()
  const { busy, run } = useAct()
  /** Take a proposal; another item is looked up first. */
  async function take(key: string, proposal: Proposal): Promise<void> {
    const { item_id } = proposal
    const items = item_id
      ? await run(() => taken(api.GET('/api/items', { params: { query: { id: item_id } } })))
      : undefined
    const next = withProposal(lines.value, key, proposal, items?.[0])
    if (!next) return
    set(next)
    say(t('desk.proposalTaken'), undo)
  }
  /** The newest figures, now; where the back office is slow, the last known serve and it is said. */
  const ask = () =>
    run(async () => {
      const { answered } = await taken(api.POST('/api/promises/ask'))
      await client.invalidateQueries({ queryKey: ['promises'] })
      say(t(answered ? 'promise.asked' : 'promise.notAnswered'))
    })
  const depots = computed(() => found.value?.depots ?? [])
  return { found, byKey, unknown, depots, take, ask, busy }
}
