/**
 * What a customer is called, and what they buy by, as forms: what is told anew meanwhile is taken over but for
 * what was typed; where both changed a field the server is asked with the state that was seen, and refuses.
 */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { reactive, ref, watch } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { freshen } from '@/kit/form/freshen'
import { useFormAct } from '@/kit/form/useFormAct'
import type { TermsFields } from '@/parts/terms/fields'
import { t } from '@/words'
import { customerKey } from './queries'

type Fields = Shapes['CustomerFields']

const ownOf = (now: Fields) => ({
  name: now.name,
  kind: now.kind,
  tax_number: now.tax_number,
  language: now.language,
  partial_deliveries: now.partial_deliveries,
})
const termsOf = (now: Fields): TermsFields => ({
  terms_days: now.terms_days,
  terms_end_of_month: now.terms_end_of_month as TermsFields['terms_end_of_month'],
  terms_more: now.terms_more as TermsFields['terms_more'],
})
const moreOf = (now: Fields) => ({
  tier: now.tier,
  price_list_id: now.price_list_id,
  parent: now.parent_id as number | null,
  owner: now.owner_id,
  limit: now.credit_limit ?? '',
  priority: now.priority,
})

export function useChangeCustomer(customer: number) {
  const client = useQueryClient()
  const path = { customer_id: customer }
  const { data, error, refetch } = useQuery({
    queryKey: [...customerKey(customer), 'fields'],
    queryFn: () => take(api.GET('/api/customers/{customer_id}/fields', { params: { path } })),
  })
  const own = reactive({} as ReturnType<typeof ownOf>)
  const terms = reactive({} as TermsFields)
  const more = reactive({} as ReturnType<typeof moreOf>)
  let filled: Fields | null = null
  /** The state that was seen: what is saved is saved over this one. */
  let version = 0
  /** What others wrote where this person typed as well. */
  const theirs = ref<string[]>([])

  function show(now: Fields): void {
    const before = filled
    filled = now
    if (before === null) {
      Object.assign(own, ownOf(now))
      Object.assign(terms, termsOf(now))
      Object.assign(more, moreOf(now))
      version = now.version
      return
    }
    const clashes = [
      ...freshen(own, ownOf(before), ownOf(now)),
      ...freshen(terms, termsOf(before), termsOf(now)),
      ...freshen(more, moreOf(before), moreOf(now)),
    ]
    const told = { ...ownOf(now), ...termsOf(now), ...moreOf(now) }
    theirs.value = clashes.map((name) => String(told[name] ?? '')).filter(Boolean)
    if (!clashes.length) version = now.version
  }
  watch(data, (now) => now && show(now), { immediate: true })

  /** Let go of what was typed, and show what is there now. */
  async function lookAgain(): Promise<void> {
    act.clear()
    theirs.value = []
    filled = null
    await refetch()
    if (data.value) show(data.value)
  }

  const act = useFormAct(['name', 'kind', 'tax_number', 'tier', 'credit_limit', 'parent_id', 'owner_id']) // prettier-ignore
  function saved(now: Fields): void {
    client.setQueryData([...customerKey(customer), 'fields'], now)
    show(now)
    version = now.version
    theirs.value = []
    void client.invalidateQueries({ queryKey: customerKey(customer), exact: true })
    say(t('customers.change.saved'))
  }
  /** What is refused as overtaken shows the others' words; saved again, it goes over them. */
  async function save(what: () => Promise<void>): Promise<void> {
    await act.run(what)
    if (act.fault.value?.status !== 409) return
    await refetch()
    version = data.value?.version ?? version
  }
  const saveOwn = () =>
    save(async () => {
      const body = { version, ...own, language: own.language as 'en' | 'de' }
      const params = { path }
      saved(await take(api.PATCH('/api/customers/{customer_id}/fields', { params, body })))
    })
  const saveTerms = () =>
    save(async () => {
      const body = {
        version,
        ...terms,
        tier: more.tier,
        priority: more.priority,
        price_list_id: more.price_list_id,
        owner_id: more.owner,
        parent_id: more.parent,
        no_parent: !more.parent,
        credit_limit: more.limit || null,
        no_limit: !more.limit,
      }
      const params = { path }
      saved(await take(api.PATCH('/api/customers/{customer_id}/terms', { params, body })))
    })
  const retire = (retired: boolean): Promise<void> =>
    act.run(async () => {
      const body = { version, retired }
      const now = await take(
        api.POST('/api/customers/{customer_id}/retire', { params: { path }, body }),
      )
      saved(now)
      void client.invalidateQueries({ queryKey: ['customers'] })
      if (retired) say(t('customers.retire.done', { name: now.name }), () => void retire(false))
    })
  return {
    data,
    error,
    refetch,
    own,
    terms,
    more,
    saveOwn,
    saveTerms,
    retire,
    lookAgain,
    theirs,
    ...act,
  }
}
