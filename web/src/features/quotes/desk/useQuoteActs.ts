/**
 * What is done with a quote as a whole: issued, revised, accepted, declined, signed off, copied. Each
 * act is on what the person sees: it goes only once that is saved, and carries its mark.
 */
import { useQueryClient } from '@tanstack/vue-query'
import type { Ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { day } from '@/kit/format/format'
import { t } from '@/words'
import { revisionKey, staleBut } from '@/features/quotes/queries'
import type { Desk } from './useDesk'

export interface Accepted {
  close_deal: boolean
  buyer_reference: string
  requested_on: string | null
  delivery_address_id: number | null
}
export type QuoteActs = ReturnType<typeof useQuoteActs>

export function useQuoteActs(
  quote: Ref<Shapes['QuoteOut']>,
  desk: Desk,
  given: {
    /** Take in and save what is typed; whether that went. */
    ready: () => Promise<boolean>
    /** Close the panel that asked. */
    done: () => void
    /** Read the quote anew. */
    again: () => void
    /** The server refused because prices moved since the draft was priced. */
    moved: () => void
  },
) {
  const client = useQueryClient()
  const router = useRouter()
  const { busy, run } = useAct((fault) => {
    if (fault.code === 'prices_moved') given.moved()
    else if (fault.status === 409) given.again()
  })
  const revision = () => ({ params: { path: { revision_id: quote.value.id } } })
  const whole = () => ({ params: { path: { quote_id: quote.value.quote_id } } })
  const others = () => void staleBut(client, quote.value.id)
  function put(fresh: Shapes['QuoteOut']): void {
    client.setQueryData(revisionKey(fresh.id), fresh)
    others()
  }
  /** An act on the draft, once it is saved as it is seen. */
  const onDraft = (what: () => Promise<void>) =>
    run(async () => {
      if (await given.ready()) await what()
    })

  const askSignOff = (reason: string) =>
    onDraft(async () => {
      const body = { reason, seen: desk.seen() }
      await take(api.POST('/api/revisions/{revision_id}/sign-off', { ...revision(), body }))
      given.again()
      void client.invalidateQueries({ queryKey: ['today'] })
    })
  const answerSignOff = (granted: boolean, comment: string) =>
    run(async () => {
      const id = desk.answer.value.sign_off?.id ?? 0
      const body = { granted, comment, seen: desk.seen() }
      put(await take(api.POST('/api/sign-offs/{sign_off_id}', { params: { path: { sign_off_id: id } }, body }))) // prettier-ignore
    })
  const decline = (reason: string) =>
    run(async () => {
      put(await take(api.POST('/api/quotes/{quote_id}/decline', { ...whole(), body: { reason } })))
      given.done()
    })
  const keep = (name: string) =>
    onDraft(async () => {
      await take(api.POST('/api/revisions/{revision_id}/keep', { ...revision(), body: { name } }))
      given.done()
      void client.invalidateQueries({ queryKey: ['kept-cases'] })
      say(t('desk.keep.done'))
    })
  /** For another customer, or for one who is made on the way. */
  const copy = (customer: number | { name: string }) =>
    onDraft(async () => {
      const body =
        typeof customer === 'number'
          ? { customer_id: customer, new_customer: '' }
          : { customer_id: null, new_customer: customer.name }
      const made = await take(
        api.POST('/api/revisions/{revision_id}/copy', { ...revision(), body }),
      )
      others()
      await router.push(`/quotes/${made.id}`)
    })
  const issue = (followUp: string) =>
    onDraft(async () => {
      const body = { version: desk.version(), follow_up_on: followUp, seen: desk.seen() }
      const issued = await take(
        api.POST('/api/revisions/{revision_id}/issue', { ...revision(), body }),
      )
      given.done()
      put(issued)
      say(t('desk.issue.done', { letter: issued.letter, day: day(followUp) }))
    })
  const revise = () =>
    run(async () => {
      const made = await take(api.POST('/api/quotes/{quote_id}/revise', whole()))
      await client.invalidateQueries()
      await router.push(`/quotes/${made.id}`)
    })
  /** The draft as it stands becomes an order, without being offered first. */
  const orderNow = (accepted: Accepted) =>
    onDraft(async () => {
      const body = { version: desk.version(), seen: desk.seen(), ...accepted }
      const order = await take(
        api.POST('/api/revisions/{revision_id}/order-now', { ...revision(), body }),
      )
      await router.push(`/orders/${order.id}`)
      void client.invalidateQueries()
    })
  const closeRest = (reason: string) =>
    run(async () => {
      put(
        await take(api.POST('/api/quotes/{quote_id}/close-rest', { ...whole(), body: { reason } })),
      )
      given.done()
    })
  const askLate = (reason: string) =>
    run(async () => {
      put(await take(api.POST('/api/quotes/{quote_id}/ask-late', { ...whole(), body: { reason } })))
      given.done()
    })
  const allowLate = (until: string, reason: string) =>
    run(async () => {
      const body = { until, reason }
      put(await take(api.POST('/api/quotes/{quote_id}/allow-late', { ...whole(), body })))
      given.done()
    })
  const discard = () =>
    run(async () => {
      await desk.flush()
      const { path } = revision().params
      await take(
        api.DELETE('/api/revisions/{revision_id}', {
          params: { path, query: { version: desk.version() } },
        }),
      )
      desk.forget()
      client.removeQueries({ queryKey: revisionKey(quote.value.id) })
      others()
      await router.push(quote.value.deal_id ? `/deals/${quote.value.deal_id}` : '/quotes')
    })

  return {
    busy,
    askSignOff,
    answerSignOff,
    decline,
    keep,
    copy,
    issue,
    revise,
    orderNow,
    closeRest,
    askLate,
    allowLate,
    discard,
  }
}
