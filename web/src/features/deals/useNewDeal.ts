/** The form of a new deal: kept while it is typed, made in one act, its faults at their fields. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import { asFault, type Fault } from '@/api/fault'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { useKeptForm } from '@/kit/draft/useKeptForm'
import { addDays, todayIso } from '@/kit/format/format'
import type { Confidence } from '@/parts/deal/confidence'
import { t } from '@/words'

const SHAPE = 1
/** In the contact's place: somebody who is not there yet. */
export const SOMEBODY_NEW = -1
const FIELDS = ['title', 'customer', 'customer_id', 'new_customer', 'contact_email', 'estimate', 'decision_on', 'stage'] // prettier-ignore

/** The decision day that the house proposes. */
const usual = (): string | null => me.value && addDays(todayIso(), me.value.usual_decision_days)

export function useNewDeal() {
  const route = useRoute()
  const router = useRouter()
  const client = useQueryClient()
  const { form, clear } = useKeptForm(me.value?.id ?? 0, 'new-deal', SHAPE, () => ({
    title: '',
    customer: null as number | null,
    newCustomer: '',
    contact: null as number | null,
    newContact: '',
    email: '',
    phone: '',
    estimate: '0',
    stage: null as string | null,
    confidence: 'likely' as Confidence,
    decision: usual(),
    owner: null as number | null,
  }))
  const asked = Number(route.query.customer) || null
  if (asked && asked !== form.value.customer) {
    // Another customer than the one it was typed for: that one's contact does not come along.
    Object.assign(form.value, { customer: asked, newCustomer: '', contact: null })
  }
  if ((form.value.decision ?? '') < todayIso()) form.value.decision = usual()
  const fault = shallowRef<Fault | null>(null)
  const busy = ref(false)

  const chosen = useQuery({
    queryKey: computed(() => ['customer', form.value.customer]),
    queryFn: () =>
      take(
        api.GET('/api/customers/{customer_id}', {
          params: { path: { customer_id: form.value.customer ?? 0 } },
        }),
      ),
    enabled: computed(() => form.value.customer !== null),
  })
  watch(
    () => form.value.customer,
    () => (form.value.contact = null),
  )
  watch(
    () => chosen.data.value,
    (customer) => {
      const known = customer?.id === form.value.customer ? customer.contacts : []
      const there = known.some((contact) => contact.id === form.value.contact)
      if (!there && form.value.contact !== SOMEBODY_NEW) form.value.contact = known[0]?.id ?? null
    },
  )
  const someone = computed(() =>
    form.value.customer ? form.value.contact === SOMEBODY_NEW : form.value.newCustomer !== '',
  )
  const faultAt = (...paths: string[]) =>
    fault.value && paths.includes(fault.value.path) ? fault.value.message : ''
  const elsewhere = computed(() =>
    fault.value && !FIELDS.includes(fault.value.path) ? fault.value.message : '',
  )

  async function make(): Promise<void> {
    if (busy.value) return
    busy.value = true
    fault.value = null
    const d = form.value
    try {
      const deal = await take(
        api.POST('/api/deals', {
          body: {
            title: d.title,
            decision_on: d.decision ?? '',
            customer_id: d.customer,
            new_customer: d.customer ? '' : d.newCustomer,
            contact_id: d.contact === SOMEBODY_NEW ? null : d.contact,
            new_contact: someone.value ? d.newContact : '',
            contact_email: d.email,
            contact_phone: d.phone,
            estimate: d.estimate,
            stage: d.stage ?? '',
            confidence: d.confidence,
            owner_id: d.owner,
          },
        }),
      )
      clear()
      void client.invalidateQueries()
      say(t('deals.new.made'))
      await router.push(`/deals/${deal.id}`)
    } catch (error) {
      fault.value = asFault(error)
    } finally {
      busy.value = false
    }
  }

  return { form, clear, chosen, someone, busy, faultAt, elsewhere, make }
}
