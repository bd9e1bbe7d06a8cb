<script setup lang="ts">
/** What is known of a lead; each field is kept when it is left. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import type { Fault } from '@/api/fault'
import { me } from '@/api/session'
import { complain } from '@/kit/act/notices'
import { useSerial } from '@/kit/act/useSerial'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import TextField from '@/kit/form/TextField.vue'
import { mailTo } from '@/kit/format/mail'
import { t } from '@/words'
import { leadKey, STALE_BY_A_LEAD, type Lead, type LeadChange } from './queries'
import { sourceChoices, sourceName, type Source } from './sources'

const props = defineProps<{ lead: Lead; open: boolean }>()
const client = useQueryClient()
const fault = ref<Fault | null>(null)
const key = () => leadKey(props.lead.id)
const { mutate } = useSerial<Lead, LeadChange>({
  record: () => `lead:${props.lead.id}`,
  now: () => client.getQueryData<Lead>(key()),
  send: (change, version) =>
    take(
      api.PATCH('/api/leads/{lead_id}', {
        params: { path: { lead_id: props.lead.id } },
        body: { version, ...change },
      }),
    ),
  done: (row) => {
    fault.value = null
    client.setQueryData(key(), row)
  },
  stale: STALE_BY_A_LEAD,
  refused: (refused) => {
    fault.value = refused
    if (refused.status === 409) void client.invalidateQueries({ queryKey: key() })
    if (!['name', 'email'].includes(refused.path)) complain(refused)
  },
})
const faultAt = (path: string) => (fault.value?.path === path ? fault.value.message : '')
const people = computed(() =>
  (me.value?.people ?? []).map((person) => ({ value: person.id, label: person.name })),
)
const source = computed(() => (props.lead.source || null) as Source | null)
const TEXTS = [
  { name: 'company', label: 'leads.company', most: 120 },
  { name: 'name', label: 'leads.name', most: 80 },
  { name: 'topic', label: 'leads.topic', most: 120, wide: true },
  { name: 'phone', label: 'leads.phone', most: 40 },
  { name: 'email', label: 'leads.mail', most: 200 },
] as const
</script>

<template>
  <section class="card">
    <header>
      <h2>{{ t('leads.known') }}</h2>
      <a v-if="lead.phone" :href="`tel:${lead.phone}`">{{ lead.phone }}</a>
      <a v-if="lead.email" :href="mailTo(lead.email)">{{ lead.email }}</a>
    </header>
    <dl v-if="!open">
      <template v-for="{ name, label } in TEXTS" :key="name">
        <dt>{{ t(label) }}</dt>
        <dd>{{ lead[name] || '–' }}</dd>
      </template>
      <dt>{{ t('leads.need') }}</dt>
      <dd>{{ lead.need || '–' }}</dd>
      <dt>{{ t('leads.source') }}</dt>
      <dd>{{ sourceName(lead.source) }}</dd>
    </dl>
    <ElForm v-else label-position="top" class="form" @submit.prevent>
      <TextField
        v-for="field in TEXTS"
        :key="field.name"
        :class="{ two: 'wide' in field }"
        :text="lead[field.name]"
        :label="t(field.label)"
        :name="field.name"
        :maxlength="field.most"
        :error="faultAt(field.name)"
        @change="(now) => mutate({ [field.name]: now })"
      />
      <TextField
        class="two"
        :text="lead.need"
        :label="t('leads.need')"
        name="need"
        :rows="3"
        :maxlength="1000"
        @change="(need) => mutate({ need })"
      />
      <TextField
        :text="lead.next_step"
        :label="t('leads.nextStep')"
        name="next_step"
        :maxlength="200"
        @change="(next_step) => mutate({ next_step })"
      />
      <DayField
        :model-value="lead.next_on"
        :label="t('leads.nextOn')"
        clearable
        @update:model-value="(next_on) => mutate({ next_on })"
      />
      <ChoiceField
        :model-value="source"
        :choices="sourceChoices()"
        :label="t('leads.source')"
        clearable
        @update:model-value="(chosen) => mutate({ source: chosen ?? '' })"
      />
      <ChoiceField
        v-if="me?.leads"
        :model-value="lead.owner_id"
        :choices="people"
        :label="t('list.rep')"
        @update:model-value="(owner) => owner && mutate({ owner_id: owner })"
      />
    </ElForm>
  </section>
</template>

<style scoped>
header {
  display: flex;
  gap: 4px 14px;
  align-items: baseline;
  flex-wrap: wrap;
}
.form {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 16px;
}
.two {
  grid-column: 1 / -1;
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 4px 16px;
}
dd {
  margin: 0;
  white-space: pre-line;
}
@media (max-width: 600px) {
  .form {
    grid-template-columns: 1fr;
  }
}
</style>
