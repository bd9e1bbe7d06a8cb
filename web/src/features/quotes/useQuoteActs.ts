/** What is done with a quote as a whole: issued, revised, accepted, declined, signed off, copied. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref, type Ref } from 'vue'
import { useRouter } from 'vue-router'
import { Fault, api, take, type Shapes } from '@/api/client'
import { day } from '@/kit/format/format'
import { complain, say } from '@/kit/act/notices'
import type { useDesk } from './useDesk'

type Desk = ReturnType<typeof useDesk>
interface Accepted {
  close_deal: boolean
  buyer_reference: string
  requested_on: string | null
  delivery_address_id: number | null
  take: string[]
}

/**
 * @param quote the revision on the desk
 * @param refetch reads it anew
 * @param done closes the panel that asked
 * @param moved the server refused because prices moved since the draft was priced
 */
export function useQuoteActs(
  quote: Ref<Shapes['QuoteOut'] | undefined>,
  desk: Desk,
  refetch: () => Promise<unknown>,
  done: () => void,
  moved: () => void,
) {
  const client = useQueryClient()
  const router = useRouter()
  const busy = ref(false)
  const revision = () => ({ params: { path: { revision_id: quote.value?.id ?? 0 } } })
  const whole = () => ({ params: { path: { quote_id: quote.value?.quote_id ?? 0 } } })
  const others = () => client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== 'revision' })
  const put = (fresh: Shapes['QuoteOut']) => client.setQueryData(['revision', fresh.id], fresh)

  async function act(what: () => Promise<void>): Promise<void> {
    busy.value = true
    try {
      await what()
    } catch (problem) {
      complain(problem)
      if (!(problem instanceof Fault)) return
      if (problem.code === 'prices_moved') moved()
      else if (problem.status === 409) await refetch()
    } finally {
      busy.value = false
    }
  }

  /** Ask for, or answer, a sign-off; the desk then shows where it stands. */
  const signing = (ask: () => Promise<unknown>) =>
    act(async () => {
      await desk.flush()
      await ask()
      await refetch()
      void client.invalidateQueries({ queryKey: ['today'] })
    })
  const askSignOff = (reason: string) =>
    signing(() =>
      take(api.POST('/api/revisions/{revision_id}/sign-off', { ...revision(), body: { reason } })),
    )
  const answerSignOff = (granted: boolean, comment: string) =>
    signing(() =>
      take(
        api.POST('/api/sign-offs/{sign_off_id}', {
          params: { path: { sign_off_id: desk.answer.value?.sign_off?.id ?? 0 } },
          body: { granted, comment },
        }),
      ),
    )
  const decline = (reason: string) =>
    act(async () => {
      put(await take(api.POST('/api/quotes/{quote_id}/decline', { ...whole(), body: { reason } })))
      done()
      void others()
    })
  const keep = (name: string) =>
    act(async () => {
      await desk.flush()
      await take(api.POST('/api/revisions/{revision_id}/keep', { ...revision(), body: { name } }))
      done()
      void client.invalidateQueries({ queryKey: ['kept-cases'] })
      say('Kept; it runs against every proposed change of prices.')
    })
  const copy = (customer: number) =>
    act(async () => {
      const made = await take(
        api.POST('/api/revisions/{revision_id}/copy', {
          ...revision(),
          body: { customer_id: customer },
        }),
      )
      void others()
      await router.push(`/quotes/${made.id}`)
    })
  const issue = (followUp: string) =>
    act(async () => {
      await desk.flush()
      const issued = await take(
        api.POST('/api/revisions/{revision_id}/issue', {
          ...revision(),
          body: { version: desk.version(), follow_up_on: followUp },
        }),
      )
      done()
      put(issued)
      void others()
      say(`Revision ${issued.letter} is issued; the follow-up is planned for ${day(followUp)}.`)
    })
  const revise = () =>
    act(async () => {
      const made = await take(api.POST('/api/quotes/{quote_id}/revise', whole()))
      await client.invalidateQueries({ predicate: (q) => q.queryKey[1] !== quote.value?.id })
      await router.push(`/quotes/${made.id}`)
    })
  const accept = (body: Accepted) =>
    act(async () => {
      const order = await take(
        api.POST('/api/revisions/{revision_id}/accept', {
          ...revision(),
          body: { version: desk.version(), ...body },
        }),
      )
      void client.invalidateQueries()
      await router.push(`/orders/${order.id}`)
    })
  const discard = () =>
    act(async () => {
      await desk.flush()
      const { path } = revision().params
      await take(
        api.DELETE('/api/revisions/{revision_id}', {
          params: { path, query: { version: desk.version() } },
        }),
      )
      desk.forget()
      void others()
      await router.push(quote.value?.deal_id ? `/deals/${quote.value.deal_id}` : '/quotes')
    })

  return { busy, askSignOff, answerSignOff, decline, keep, copy, issue, revise, accept, discard }
}
