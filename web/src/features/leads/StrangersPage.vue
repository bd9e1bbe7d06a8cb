<script setup lang="ts">
/** Who wrote to the house and is known to nobody: a contact, a lead, or nobody of ours. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { moment } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import SureButton from '@/kit/step/SureButton.vue'
import CustomerPick from '@/parts/customer/CustomerPick.vue'
import { t, tn } from '@/words'
import { strangersQuery } from './queries'

type Stranger = Shapes['StrangerOut']
const client = useQueryClient()
const router = useRouter()
const { data, error, refetch } = useQuery(strangersQuery)
/** Of a stranger, the customer that somebody chose instead of the one that is offered. */
const chosen = ref<Record<number, number | null>>({})
const { busy, run } = useAct(() => void refetch())
const customerOf = ({ id, customer_id: offered }: Stranger) =>
  chosen.value[id] === undefined ? offered : chosen.value[id]

const decided = () => {
  for (const queryKey of [['strangers'], ['today'], ['leads']])
    void client.invalidateQueries({ queryKey })
}
const asContact = (stranger: Stranger) =>
  run(async () => {
    const customer_id = customerOf(stranger)
    if (!customer_id) return
    const params = { path: { stranger_id: stranger.id } }
    const body = { version: stranger.version, customer_id }
    await take(api.POST('/api/strangers/{stranger_id}/contact', { params, body }))
    decided()
    say(t('leads.strangers.isContact', { name: stranger.name || stranger.address }))
    await router.push(`/customers/${customer_id}#mail`)
  })
const asLead = (stranger: Stranger) =>
  run(async () => {
    const params = { path: { stranger_id: stranger.id } }
    const body = { version: stranger.version }
    const made = await take(api.POST('/api/strangers/{stranger_id}/lead', { params, body }))
    decided()
    await router.push(`/leads/${made.lead_id}`)
  })
const letGo = (stranger: Stranger) =>
  run(async () => {
    const params = { path: { stranger_id: stranger.id } }
    const body = { version: stranger.version }
    await take(api.POST('/api/strangers/{stranger_id}/go', { params, body }))
    decided()
  })
</script>

<template>
  <div class="page">
    <h1>{{ t('leads.strangers.title') }}</h1>
    <p class="soft">{{ t('leads.strangers.hint') }}</p>
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <EmptyState v-else-if="!data.length" :title="t('leads.strangers.none')">
      <RouterLink to="/leads">{{ t('leads.title') }}</RouterLink>
    </EmptyState>
    <ul v-else>
      <li v-for="each in data" :key="each.id" class="card">
        <header>
          <h2>{{ each.name || each.address }}</h2>
          <span v-if="each.name" class="soft">{{ each.address }}</span>
          <span class="soft">{{ moment(each.wrote_at) }}</span>
        </header>
        <p>
          {{ each.subject }}
          <span v-if="each.mails > 1" class="soft">{{
            tn('leads.strangers.mails', each.mails)
          }}</span>
        </p>
        <p v-if="each.customer" class="soft">
          {{ t('leads.strangers.same', { customer: each.customer }) }}
        </p>
        <div class="acts">
          <CustomerPick
            class="pick"
            :model-value="customerOf(each)"
            small
            bare
            @update:model-value="(id) => (chosen = { ...chosen, [each.id]: id })"
          />
          <ElButton
            size="small"
            :type="each.customer_id ? 'primary' : 'default'"
            :disabled="busy || !customerOf(each)"
            @click="asContact(each)"
            >{{ t('leads.strangers.contact') }}</ElButton
          >
          <ElButton
            size="small"
            :type="each.customer_id ? 'default' : 'primary'"
            :disabled="busy"
            @click="asLead(each)"
            >{{ t('leads.strangers.lead') }}</ElButton
          >
          <SureButton
            :label="t('leads.strangers.go')"
            :question="t('leads.strangers.sure')"
            :act="t('leads.strangers.goAct')"
            :disabled="busy"
            @go="letGo(each)"
          />
        </div>
      </li>
    </ul>
  </div>
</template>

<style scoped>
ul {
  padding: 0;
  list-style: none;
}
li {
  margin-top: 10px;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  justify-content: flex-start;
  align-items: baseline;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
  margin-top: 8px;
}
.pick {
  width: 280px;
}
</style>
