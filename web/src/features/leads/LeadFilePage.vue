<script setup lang="ts">
/** Leads from a file: tried first, every row that is not simply new told, then taken in. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useImport } from '@/kit/act/useImport'
import FilingCard from '@/parts/filing/FilingCard.vue'
import { t, tn } from '@/words'
import { worded } from '@/words/refusals'
import { staleByLead } from './queries'

const client = useQueryClient()
const { data: columns } = useQuery({
  queryKey: ['lead-file-columns'],
  queryFn: () => take(api.GET('/api/lead-files')),
  staleTime: Infinity,
})
const files = useImport<Shapes['LeadFiling']>((keep) => `/api/lead-files?keep=${keep}`)
const fresh = computed(() => files.report.value?.counts.new ?? 0)
async function keep(): Promise<void> {
  if (!(await files.keep())) return
  say(tn('leads.file.made', fresh.value))
  staleByLead(client)
}
</script>

<template>
  <div class="page">
    <h1>{{ t('leads.file.title') }}</h1>
    <FilingCard
      v-slot="{ report, kept }"
      of="leads"
      :files="files"
      template="/api/lead-files/template"
      :columns="columns ?? []"
      :states="['new', 'double', 'refused']"
      :coming="fresh"
      @file="files.attempt"
      @keep="keep"
    >
      <table v-if="report.told.length" class="list">
        <thead>
          <tr>
            <th class="num">{{ t('leads.file.row') }}</th>
            <th>{{ t('leads.lead') }}</th>
            <th>{{ t('leads.file.what') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in report.told" :key="row.row">
            <td class="num">{{ row.row }}</td>
            <td>{{ row.title }}</td>
            <td :class="row.state">
              {{ row.fault ? worded(row.fault) : t('leads.file.isDouble') }}
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="kept">
        <RouterLink to="/leads">{{ t('leads.title') }}</RouterLink>
      </p>
    </FilingCard>
  </div>
</template>

<style scoped>
.page {
  --bar-height: 0px;
}
.double {
  color: var(--amber-ink);
}
.refused {
  color: var(--red);
}
</style>
