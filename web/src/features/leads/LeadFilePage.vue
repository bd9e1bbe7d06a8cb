<script setup lang="ts">
/** Leads from a file: tried first, every row that is not simply new told, then taken in. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useImport } from '@/kit/act/useImport'
import FileButton from '@/kit/form/FileButton.vue'
import { figure } from '@/kit/format/format'
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
const { file, report, kept, done, busy } = files
const STATES = ['new', 'double', 'refused'] as const
const counts = computed(() =>
  STATES.map((state) => ({ state, many: report.value?.counts[state] ?? 0 })).filter(
    ({ many }) => many,
  ),
)
const fresh = computed(() => report.value?.counts.new ?? 0)
async function keep(): Promise<void> {
  if (!(await files.keep())) return
  say(tn('leads.file.made', fresh.value))
  staleByLead(client)
}
</script>

<template>
  <div class="page">
    <h1>{{ t('leads.file.title') }}</h1>
    <section class="card">
      <div class="chips">
        <FileButton
          :label="t('quotes.file.choose')"
          accept=".csv,.xlsx,.vcf"
          primary
          :disabled="busy"
          @file="files.attempt"
        />
        <a
          v-for="kind in ['xlsx', 'csv'] as const"
          :key="kind"
          class="btn small"
          :href="`/api/lead-files/template.${kind}`"
          download
          >{{ t('quotes.file.template', { format: t(`customers.file.kinds.${kind}`) }) }}</a
        >
      </div>
      <p v-if="busy" role="status">
        {{
          done
            ? tn('leads.file.looked', done, { file: file?.name, n: figure(String(done)) })
            : t('quotes.file.read', { file: file?.name })
        }}
      </p>
      <template v-if="!report && !busy">
        <p>{{ t('leads.file.how') }}</p>
        <dl>
          <template v-for="c in columns ?? []" :key="c.heading">
            <dt>{{ c.heading }}</dt>
            <dd>{{ c.holds }}</dd>
          </template>
        </dl>
      </template>
      <template v-if="report">
        <p role="status" class="counts">
          <b>{{
            t(kept ? 'customers.file.isIn' : 'customers.file.tried', { file: file?.name })
          }}</b>
          <span v-for="{ state, many } in counts" :key="state" :class="state">{{
            tn(`leads.file.states.${state}`, many, { n: figure(String(many)) })
          }}</span>
        </p>
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
        <p v-if="!kept" class="chips">
          <ElButton type="primary" :loading="busy" :disabled="!fresh" @click="keep">{{
            tn('leads.file.keep', fresh, { n: figure(String(fresh)) })
          }}</ElButton>
          <ElButton text @click="files.letGo">{{ t('kit.step.notYet') }}</ElButton>
        </p>
        <p v-else>
          <RouterLink to="/leads">{{ t('leads.title') }}</RouterLink>
        </p>
      </template>
    </section>
  </div>
</template>

<style scoped>
.page {
  --bar-height: 0px;
}
.chips {
  margin-bottom: 8px;
}
.counts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  margin: 10px 0;
}
.double {
  color: var(--amber-ink);
}
.refused {
  color: var(--red);
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 3px 16px;
  margin-top: 10px;
}
dt {
  font-weight: 600;
}
</style>
