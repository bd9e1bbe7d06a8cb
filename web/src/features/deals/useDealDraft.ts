/** The fields of a deal as they are typed, and their way to the server: only what changed goes. */
import { useQueryClient } from '@tanstack/vue-query'
import { toRaw, watch, type Ref } from 'vue'
import { me } from '@/api/session'
import { keptDraft } from '@/kit/draft/keptDraft'
import type { DraftStore, Stored } from '@/kit/draft/types'
import { useDraft } from '@/kit/draft/useDraft'
import { changeDeal, dealKey, readDeal, staleByDeal, type Deal, type DealChange } from './queries'

/** Count up when `DealFields` changes its shape. */
const SHAPE = 2
export interface DealFields {
  stage: string
  decision_on: string
  estimate: string
  confidence: Deal['confidence']
  contact_id: number | null
  probability: string | null
  probability_reason: string
  needs: string
  rivals: string
  reason_id: number | null
  reason_note: string
  lost_to: string
}

export function fieldsOf(deal: Deal): DealFields {
  return {
    stage: deal.stage,
    decision_on: deal.decision_on,
    estimate: deal.estimate,
    confidence: deal.confidence,
    contact_id: deal.contact?.id ?? null,
    probability: deal.own_probability,
    probability_reason: deal.probability_reason,
    needs: deal.needs,
    rivals: deal.rivals,
    reason_id: deal.reason_id,
    reason_note: deal.reason_note,
    lost_to: deal.lost_to,
  }
}
/** What differs; an own probability goes with its reason. */
export function changesOf(before: DealFields, now: DealFields): DealChange {
  const keys = (Object.keys(now) as (keyof DealFields)[]).filter((key) => now[key] !== before[key])
  const changed = Object.fromEntries(keys.map((key) => [key, now[key]])) as DealChange
  if ('probability' in changed || 'probability_reason' in changed) {
    changed.probability = now.probability
    changed.probability_reason = now.probability_reason
  }
  return changed
}
const storedOf = (deal: Deal): Stored<DealFields> => ({
  state: fieldsOf(deal),
  version: deal.version,
  open: true,
})

export function useDealDraft(deal: Ref<Deal>): DraftStore<DealFields> {
  const client = useQueryClient()
  const { id } = deal.value
  const person = me.value?.id ?? 0
  const known = () => client.getQueryData<Deal>(dealKey(id)) ?? toRaw(deal.value)
  const store = useDraft<DealFields, Deal>(`${person}:deal-${id}`, storedOf(toRaw(deal.value)), {
    kept: keptDraft(person, `deal-${id}`, SHAPE),
    save: (state, version) => changeDeal(id, version, changesOf(fieldsOf(known()), state)),
    read: async () => {
      const fresh = await readDeal(id)
      client.setQueryData(dealKey(id), fresh)
      return storedOf(fresh)
    },
    saved: (fresh) => {
      client.setQueryData(dealKey(id), fresh)
      staleByDeal(client)
    },
  })
  watch(deal, () => store.offer(storedOf(toRaw(deal.value))))
  return store
}
