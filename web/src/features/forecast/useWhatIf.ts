/** The what-if of a person: what is thought of deals, asked about, kept on a word, taken back. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, type Ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { useKeptForm } from '@/kit/draft/useKeptForm'
import { t, tn } from '@/words'
import {
  asksWhy,
  backOf,
  changesOf,
  think,
  thoughtsOf,
  without,
  type DecidingDeal,
  type Thought,
  type Thoughts,
} from './whatIf'
import { asked, type Whose } from './whose'

export interface Looked {
  whose: Whose
  season: string
  chances: string
  month: string
}
const STALE = [['deals'], ['deal'], ['timetable'], ['forecast'], ['today']]

export function useWhatIf(looked: Ref<Looked>) {
  const client = useQueryClient()
  const { form: thoughts, clear } = useKeptForm<Thoughts>(me.value?.id ?? 0, 'what-if', 1, () => ({})) // prettier-ignore
  const count = computed(() => Object.keys(thoughts.value).length)
  const { data, error, isPlaceholderData } = useQuery({
    queryKey: computed(() => ['forecast', 'what-if', looked.value, thoughts.value]),
    queryFn: ({ signal }) => {
      const { whose, season, chances, month } = looked.value
      const body: Shapes['WhatIfIn'] = {
        ...asked(whose),
        family: !!whose.family,
        season: Number(season) || 0,
        chances: chances === 'learnt' ? 'learnt' : '',
        month,
        thoughts: thoughtsOf(thoughts.value),
      }
      return take(api.POST('/api/forecast/what-if', { body, signal }))
    },
    enabled: computed(() => count.value > 0 && looked.value.month !== ''),
    placeholderData: (before) => before,
    retry: false,
  })
  /** Without a thought there is nothing but how the deals stand. */
  const answer = computed(() => (count.value ? data.value : undefined))
  const why = ref('')
  const { busy, run } = useAct()
  async function send(rows: Shapes['DealOfMany'][]): Promise<Shapes['DealRow'][]> {
    const done = await take(api.POST('/api/deal-changes', { body: { rows, keep: true } }))
    for (const queryKey of STALE) void client.invalidateQueries({ queryKey })
    return done.rows
  }
  const changes = computed(() =>
    changesOf(thoughts.value, answer.value?.deciding.deals ?? [], why.value),
  )
  const keep = () =>
    run(async () => {
      const [mine, deals] = [changes.value, answer.value?.deciding.deals ?? []]
      const back = backOf(mine, deals, await send(mine))
      clear()
      why.value = ''
      say(tn('forecast.deciding.kept', mine.length), () => void takeBack(back))
      return true
    })
  const takeBack = (rows: Shapes['DealOfMany'][]) =>
    run(async () => {
      await send(rows)
      say(t('forecast.deciding.tookBack'))
    })
  return {
    thoughts,
    count,
    answer,
    error,
    stale: isPlaceholderData,
    changes,
    asksWhy: computed(() => asksWhy(thoughts.value)),
    why,
    busy,
    keep,
    clear,
    think: (deal: DecidingDeal, more: Thought) => (thoughts.value = think(thoughts.value, deal, more)), // prettier-ignore
    /** A deal as it stands again. */
    asIs: (deal: DecidingDeal) => (thoughts.value = without(thoughts.value, deal)),
  }
}
export type WhatIf = ReturnType<typeof useWhatIf>
