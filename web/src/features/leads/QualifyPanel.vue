<script setup lang="ts">
/** A lead becomes a customer, a person there and a deal, as far as they are wanted; who is there already is found. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import type { Fault } from '@/api/fault'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import TextField from '@/kit/form/TextField.vue'
import { addDays, figure, todayIso } from '@/kit/format/format'
import StepPanel from '@/kit/step/StepPanel.vue'
import CustomerPick from '@/parts/customer/CustomerPick.vue'
import LikelyCustomers from '@/parts/customer/LikelyCustomers.vue'
import { readAmount } from '@/parts/line/numbers'
import { t } from '@/words'
import type { Lead } from './queries'

const props = defineProps<{ lead: Lead }>()
const emit = defineEmits<{ done: [lead: Lead]; close: [] }>()
const router = useRouter()
const client = useQueryClient()
const SOMEBODY_NEW = -1
const customer = ref<number | null>(null)
const fresh = ref(props.lead.company || props.lead.name)
const contact = ref<number | null>(props.lead.name ? SOMEBODY_NEW : null)
const contactName = ref(props.lead.name)
const wantsDeal = ref(true)
const title = ref(props.lead.topic)
const decision = ref<string | null>(addDays(todayIso(), me.value?.usual_decision_days ?? 30))
const estimate = ref('0')
const base = computed(() => me.value?.base_currency ?? '')
const read = (text: string) => readAmount(text || '0', base.value, me.value?.base_digits ?? 0)
const chosen = useQuery({
  queryKey: computed(() => ['customer', customer.value]),
  queryFn: () =>
    take(
      api.GET('/api/customers/{customer_id}', {
        params: { path: { customer_id: customer.value ?? 0 } },
      }),
    ),
  enabled: computed(() => customer.value !== null),
})
const contacts = computed(() => [
  ...(customer.value ? (chosen.data.value?.contacts ?? []) : []).map((each) => ({
    value: each.id,
    label: each.name,
    detail: each.role,
  })),
  { value: SOMEBODY_NEW, label: t('deals.new.somebody') },
])
const people = useQuery({
  queryKey: computed(() => ['customer', customer.value, 'likely', props.lead.id]),
  queryFn: ({ signal }) => {
    const { name, email: mail, phone } = props.lead
    const params = { path: { customer_id: customer.value ?? 0 }, query: { name, mail, phone } }
    return take(api.GET('/api/customers/{customer_id}/likely-contacts', { params, signal }))
  },
  enabled: computed(() => customer.value !== null),
})
/** Who is known there and may be the person of the lead, and why. */
const likely = computed(() => (customer.value ? (people.data.value?.[0] ?? null) : null))
const whyLikely = computed(() =>
  likely.value && contact.value === likely.value.id
    ? t('leads.qualify.likely', {
        why: likely.value.why.map((each) => t(`parts.customer.why.${each as 'mail'}`)).join(', '),
      })
    : '',
)
watch([customer, likely], () => {
  const known = customer.value ? (chosen.data.value?.contacts ?? []) : []
  const gone = contact.value !== SOMEBODY_NEW && !known.some(({ id }) => id === contact.value)
  if (likely.value) contact.value = likely.value.id
  else if (gone) contact.value = props.lead.name ? SOMEBODY_NEW : null
})
const someone = computed(() => customer.value !== null || fresh.value.trim() !== '')
const fault = shallowRef<Fault | null>(null)
const FIELDS = ['customer', 'customer.name', 'title', 'decision_on']
const { busy, run } = useAct((refused) => {
  fault.value = refused
  return FIELDS.includes(refused.path)
})
const faultAt = (...paths: string[]) =>
  fault.value && paths.includes(fault.value.path) ? fault.value.message : ''
const go = () =>
  run(async () => {
    fault.value = null
    const deal = wantsDeal.value && someone.value
    const body = {
      version: props.lead.version,
      customer_id: customer.value,
      new_customer: customer.value ? '' : fresh.value,
      contact_id: someone.value && contact.value !== SOMEBODY_NEW ? contact.value : null,
      new_contact: someone.value && contact.value === SOMEBODY_NEW ? contactName.value : '',
      deal: deal ? title.value || props.lead.title : '',
      decision_on: deal ? decision.value : null,
      estimate: deal ? estimate.value : '0',
    }
    const params = { path: { lead_id: props.lead.id } }
    const lead = await take(api.POST('/api/leads/{lead_id}/qualify', { params, body }))
    emit('done', lead)
    void client.invalidateQueries()
    say(t('leads.qualify.done'))
    if (lead.became?.deal_id) await router.push(`/deals/${lead.became.deal_id}`)
  })
</script>

<template>
  <StepPanel
    :title="t('leads.qualify.title', { title: lead.title })"
    @close="emit('close')"
    @go="go"
  >
    <div class="parts">
      <CustomerPick
        v-model="customer"
        v-model:fresh="fresh"
        may-make
        :error="faultAt('customer', 'customer.name')"
      />
      <LikelyCustomers
        v-if="!customer && fresh"
        class="wide"
        :name="fresh"
        :mail="lead.email"
        :phone="lead.phone"
        @choose="(id) => ((customer = id), (fresh = ''))"
      />
      <template v-if="someone">
        <ChoiceField
          v-model="contact"
          :choices="contacts"
          :label="t('deals.form.contact')"
          clearable
          :placeholder="t('deals.form.nobody')"
        />
        <p v-if="whyLikely" class="soft wide" role="status">{{ whyLikely }}</p>
        <ElFormItem v-if="contact === SOMEBODY_NEW" :label="t('deals.new.contactName')">
          <ElInput v-model="contactName" name="new_contact" maxlength="80" />
        </ElFormItem>
        <ElCheckbox v-model="wantsDeal" class="wide">{{ t('leads.qualify.deal') }}</ElCheckbox>
        <template v-if="wantsDeal">
          <ElFormItem :label="t('deals.new.about')" :error="faultAt('title')">
            <ElInput v-model="title" name="title" maxlength="120" :placeholder="lead.title" />
          </ElFormItem>
          <DayField
            v-model="decision"
            :label="t('deals.form.decision')"
            :from="todayIso()"
            :error="faultAt('decision_on')"
          />
          <TextField
            :text="figure(estimate)"
            :label="t('deals.form.estimate', { currency: base })"
            figure
            :read="read"
            @change="(now) => (estimate = now)"
          />
        </template>
      </template>
      <p v-else class="soft wide">{{ t('leads.qualify.nothing') }}</p>
      <p class="soft wide">{{ t('leads.qualify.carries') }}</p>
    </div>
    <ElButton type="primary" native-type="submit" :loading="busy">{{
      t('leads.qualify.act')
    }}</ElButton>
  </StepPanel>
</template>

<style scoped>
.parts {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(210px, 1fr));
  gap: 8px 16px;
  flex: 1 1 700px;
}
.wide {
  grid-column: 1 / -1;
}
</style>
