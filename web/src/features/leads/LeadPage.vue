<script setup lang="ts">
/** A lead: what is known, what was written, and what became of it. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, take } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { day } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { useTitle } from '@/kit/show/title'
import ReasonPanel from '@/kit/step/ReasonPanel.vue'
import SheetHead from '@/parts/route/SheetHead.vue'
import { t } from '@/words'
import LeadFields from './LeadFields.vue'
import LeadNotes from './LeadNotes.vue'
import QualifyPanel from './QualifyPanel.vue'
import { leadKey, staleByLead, useLead, type Lead } from './queries'

const id = Number(useRoute().params.id)
const client = useQueryClient()
const { data, error, refetch } = useLead(id)
useTitle(() => data.value?.title)
const open = computed(() => data.value?.state === 'open')
const step = ref<'' | 'qualify' | 'let-go'>('')
const { busy, run } = useAct((fault) => {
  if (fault.status === 409) void refetch()
})
function become(lead: Lead): void {
  client.setQueryData(leadKey(id), lead)
  staleByLead(client)
  step.value = ''
}
const letGo = (reason: string) =>
  run(async () => {
    const body = { version: data.value?.version ?? 0, reason }
    become(await take(api.POST('/api/leads/{lead_id}/disqualify', { params: { path: { lead_id: id } }, body }))) // prettier-ignore
    say(t('leads.letGo.done'), () => void takeUp())
  })
const takeUp = () =>
  run(async () => {
    const body = { version: data.value?.version ?? 0 }
    become(await take(api.POST('/api/leads/{lead_id}/reopen', { params: { path: { lead_id: id } }, body }))) // prettier-ignore
  })
</script>

<template>
  <div class="page">
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <template v-else>
      <SheetHead :title="data.title">
        {{ t('leads.lead') }} · {{ t(`leads.states.${data.state as 'open'}`) }} · {{ data.owner }} ·
        {{ t('deals.since', { day: day(data.created_at) }) }}
        <template #side>
          <template v-if="open">
            <ElButton type="primary" @click="step = 'qualify'">{{
              t('leads.qualify.open')
            }}</ElButton>
            <ElButton @click="step = 'let-go'">{{ t('leads.letGo.open') }}</ElButton>
          </template>
          <ElButton v-else-if="!data.became" :loading="busy" @click="takeUp">{{
            t('leads.takeUp')
          }}</ElButton>
        </template>
      </SheetHead>
      <p v-if="data.state === 'disqualified'" class="card said">
        {{ t('leads.letGo.because', { reason: data.reason, day: day(data.closed_at) }) }}
      </p>
      <p v-else-if="data.state === 'qualified'" class="card said">
        {{ t('leads.became', { day: day(data.closed_at) }) }}
        <template v-if="data.became">
          <RouterLink :to="`/customers/${data.became.customer_id}`">{{
            data.became.customer
          }}</RouterLink>
          <template v-if="data.became.contact"> · {{ data.became.contact }}</template>
          <template v-if="data.became.deal_id">
            ·
            <RouterLink :to="`/deals/${data.became.deal_id}`">{{ data.became.deal }}</RouterLink>
          </template>
        </template>
        <template v-else>{{ t('leads.becameNothing') }}</template>
      </p>
      <div class="columns">
        <LeadFields :lead="data" :open="open" />
        <LeadNotes :lead="data" @noted="become" />
      </div>
      <QualifyPanel v-if="step === 'qualify'" :lead="data" @done="become" @close="step = ''" />
      <ReasonPanel
        v-if="step === 'let-go'"
        :title="t('leads.letGo.title', { title: data.title })"
        :act="t('leads.letGo.act')"
        :label="t('leads.letGo.why')"
        :busy="busy"
        @go="letGo"
        @close="step = ''"
      />
    </template>
  </div>
</template>

<style scoped>
.page {
  --bar-height: 0px;
}
.said {
  margin-bottom: 12px;
}
</style>
