/** Several deals changed together: tried first, done as one, taken back as one. */
import { useQueryClient } from '@tanstack/vue-query'
import { api, take } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { t, tn } from '@/words'
import { backOf, changesOf, type OfMany, type Wish } from './many'
import { staleByDeal, type DealRow } from './queries'

/** What a change of several comes to; stored only with `keep`. */
export const askTogether = (rows: OfMany[], keep: boolean) =>
  take(api.POST('/api/deal-changes', { body: { rows, keep } }))

export function useTogether() {
  const client = useQueryClient()
  const { busy, run } = useAct()
  /** Whether it was done. */
  const change = (before: DealRow[], wish: Wish, today: string) =>
    run(async () => {
      const done = await askTogether(changesOf(before, wish, today), true)
      staleByDeal(client)
      const back = backOf(before, done.rows, wish)
      say(tn('deals.many.done', before.length), back.length ? () => void takeBack(back) : undefined)
      return true
    })
  const takeBack = (back: OfMany[]) =>
    run(async () => {
      await askTogether(back, true)
      staleByDeal(client)
      say(t('deals.many.back'))
    })
  return { busy, change }
}
