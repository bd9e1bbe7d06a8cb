<script setup lang="ts">
/** A new deal, with its customer and contact made in place. The draft outlives a closed page. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { Fault, api, take } from '@/api/client'
import { addDays, todayIso } from '@/kit/format/format'
import { say } from '@/kit/act/notices'
import { me } from '@/api/session'
import CustomerPick from '@/parts/customer/CustomerPick.vue'
import { CONFIDENCE, useStages } from './useDeals'

const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const stages = useStages()
const EMPTY = {
  title: '',
  customer: null as number | null,
  newCustomer: '',
  contact: '' as string,
  newContact: '',
  email: '',
  phone: '',
  estimate: '',
  stage: 'spotted',
  confidence: 'likely' as 'sure' | 'likely' | 'stretch',
  decision: addDays(todayIso(), 30),
  owner: '',
}
const draft = useStorage('vivid-new-deal', { ...EMPTY }, sessionStorage, { mergeDefaults: true })
if (route.query.customer) draft.value.customer = Number(route.query.customer)
const fault = ref<Fault | null>(null)
const busy = ref(false)

const chosen = useQuery({
  queryKey: computed(() => ['customer', draft.value.customer]),
  queryFn: () =>
    take(
      api.GET('/api/customers/{customer_id}', {
        params: { path: { customer_id: draft.value.customer ?? 0 } },
      }),
    ),
  enabled: computed(() => draft.value.customer !== null),
})
watch(
  () => chosen.data.value?.contacts,
  (contacts) => {
    if (contacts?.[0] && !draft.value.contact) draft.value.contact = String(contacts[0].id)
  },
)
watch(
  () => draft.value.customer,
  () => (draft.value.contact = ''),
)

async function make(): Promise<void> {
  busy.value = true
  fault.value = null
  const d = draft.value
  try {
    const deal = await take(
      api.POST('/api/deals', {
        body: {
          title: d.title,
          decision_on: d.decision,
          customer_id: d.customer,
          new_customer: d.customer ? '' : d.newCustomer,
          contact_id: d.contact && d.contact !== 'new' ? Number(d.contact) : null,
          new_contact: d.contact === 'new' || !d.customer ? d.newContact : '',
          contact_email: d.email,
          contact_phone: d.phone,
          estimate: d.estimate || '0',
          stage: d.stage,
          confidence: d.confidence,
          owner_id: d.owner ? Number(d.owner) : null,
        },
      }),
    )
    draft.value = { ...EMPTY }
    await client.invalidateQueries()
    say('The deal is on the Timetable.')
    await router.push(`/deals/${deal.id}`)
  } catch (error) {
    fault.value = error instanceof Fault ? error : new Fault(0, 'unknown', String(error))
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="page narrow">
    <h1>New deal</h1>
    <form class="card" @submit.prevent="make">
      <div class="form">
        <CustomerPick
          v-model="draft.customer"
          v-model:fresh="draft.newCustomer"
          class="two"
          may-make
        />
        <label class="field two"
          ><span>What it is about</span>
          <input v-model="draft.title" class="input" name="title" maxlength="120" required
        /></label>
        <label v-if="draft.customer" class="field"
          ><span>Contact</span>
          <select v-model="draft.contact" class="input" name="contact">
            <option value="">Nobody yet</option>
            <option
              v-for="c in chosen.data.value?.contacts ?? []"
              :key="c.id"
              :value="String(c.id)"
            >
              {{ c.name }}{{ c.role ? `, ${c.role}` : '' }}
            </option>
            <option value="new">Somebody new…</option>
          </select></label
        >
        <template v-if="draft.contact === 'new' || (!draft.customer && draft.newCustomer)">
          <label class="field"
            ><span>Contact's name</span>
            <input v-model="draft.newContact" class="input" name="new_contact" maxlength="80"
          /></label>
          <label class="field"
            ><span>Mail</span> <input v-model="draft.email" class="input" type="email" name="email"
          /></label>
          <label class="field"
            ><span>Phone</span>
            <input v-model="draft.phone" class="input" name="phone" maxlength="40"
          /></label>
        </template>
        <label class="field"
          ><span>Estimate {{ me?.base_currency }}</span>
          <input
            v-model="draft.estimate"
            class="input"
            name="estimate"
            inputmode="decimal"
            pattern="\d{1,12}(\.\d{1,2})?"
            title="An amount, as 12500 or 12500.50"
        /></label>
        <label class="field"
          ><span>Expected decision</span>
          <input v-model="draft.decision" class="input" type="date" name="decision" required
        /></label>
        <label class="field"
          ><span>Stage</span>
          <select v-model="draft.stage" class="input" name="stage">
            <option
              v-for="s in (stages.data.value ?? []).filter((s) => s.outcome === 'open')"
              :key="s.code"
              :value="s.code"
            >
              {{ s.name }}
            </option>
          </select></label
        >
        <label class="field"
          ><span>Confidence</span>
          <select v-model="draft.confidence" class="input" name="confidence">
            <option v-for="(name, key) in CONFIDENCE" :key="key" :value="key">{{ name }}</option>
          </select></label
        >
        <label v-if="me?.leads" class="field"
          ><span>Rep</span>
          <select v-model="draft.owner" class="input" name="owner">
            <option value="">Myself</option>
            <option v-for="p in me.people" :key="p.id" :value="String(p.id)">{{ p.name }}</option>
          </select></label
        >
      </div>
      <p v-if="fault" class="fault" role="alert">{{ fault.message }}</p>
      <p class="acts">
        <button class="btn act" :disabled="busy">Make the deal</button>
        <RouterLink class="btn quiet" to="/deals">Not now</RouterLink>
        <span class="soft">What you typed stays here until you come back.</span>
      </p>
    </form>
  </div>
</template>

<style scoped>
.narrow {
  max-width: 860px;
}
h1 {
  margin-bottom: 10px;
}
form {
  padding: 18px 22px;
}
.form {
  grid-template-columns: repeat(4, minmax(0, 1fr));
}
.two {
  grid-column: span 2;
}
.acts {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-top: 18px;
}
.fault {
  margin-top: 12px;
}
@media (max-width: 820px) {
  .form {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
