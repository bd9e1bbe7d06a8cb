<script setup lang="ts">
/** Customers, people and places from a file: tried first, doubles decided one by one, then taken in; and all into one. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useImport } from '@/kit/act/useImport'
import FileButton from '@/kit/form/FileButton.vue'
import { figure } from '@/kit/format/format'
import { t, tn } from '@/words'
import FiledCustomers from './FiledCustomers.vue'

const client = useQueryClient()
const { data: columns } = useQuery({
  queryKey: ['customer-file-columns'],
  queryFn: () => take(api.GET('/api/customer-files')),
  staleTime: Infinity,
})
/** Rows of likely doubles that are customers of their own, by a person's word. */
const anyway = ref<number[]>([])
const files = useImport<Shapes['CustomerFiling']>(
  (keep) => `/api/customer-files?keep=${keep}&anyway=${keep ? anyway.value.join(',') : ''}`,
)
const { file, report, kept, done, busy } = files
const KINDS = ['xlsx', 'csv', 'vcf'] as const
const STATES = ['new', 'changed', 'same', 'double', 'refused'] as const
const counts = computed(() =>
  STATES.map((state) => ({ state, many: report.value?.counts[state] ?? 0 })).filter(
    ({ many }) => many,
  ),
)
const willCome = computed(() => {
  const now = report.value?.counts
  return now ? (now.new ?? 0) + (now.changed ?? 0) + anyway.value.length : 0
})
async function attempt(chosen: File): Promise<void> {
  anyway.value = []
  await files.attempt(chosen)
}
async function keep(): Promise<void> {
  if (!(await files.keep())) return
  const now = report.value?.counts
  say(tn('customers.file.made', (now?.new ?? 0) + (now?.changed ?? 0)))
  void client.invalidateQueries()
}
</script>

<template>
  <div class="page">
    <header class="top">
      <h1>{{ t('customers.file.title') }}</h1>
      <span class="soft all"
        >{{ t('customers.file.everything') }}
        <a
          v-for="kind in KINDS"
          :key="kind"
          class="btn quiet small"
          :href="`/api/customer-files/all.${kind}`"
          download
          >{{ t(`customers.file.kinds.${kind}`) }}</a
        ></span
      >
    </header>
    <section class="card">
      <div class="chips">
        <FileButton
          :label="t('quotes.file.choose')"
          accept=".csv,.xlsx,.vcf"
          primary
          :disabled="busy"
          @file="attempt"
        />
        <a
          v-for="kind in KINDS.slice(0, 2)"
          :key="kind"
          class="btn small"
          :href="`/api/customer-files/template.${kind}`"
          download
          >{{ t('quotes.file.template', { format: t(`customers.file.kinds.${kind}`) }) }}</a
        >
      </div>
      <p v-if="busy" role="status">
        {{
          done
            ? tn('customers.file.looked', done, { file: file?.name, n: figure(String(done)) })
            : t('quotes.file.read', { file: file?.name })
        }}
      </p>
      <template v-if="!report && !busy">
        <p>{{ t('customers.file.how') }}</p>
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
            tn(`customers.file.states.${state}`, many, { n: figure(String(many)) })
          }}</span>
        </p>
        <FiledCustomers v-model="anyway" :report="report" :kept="kept" />
        <p v-if="!kept" class="chips">
          <ElButton type="primary" :loading="busy" :disabled="!willCome" @click="keep">{{
            tn('customers.file.keep', willCome, { n: figure(String(willCome)) })
          }}</ElButton>
          <ElButton text @click="files.letGo">{{ t('kit.step.notYet') }}</ElButton>
        </p>
      </template>
    </section>
  </div>
</template>

<style scoped>
.top {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 20px;
  align-items: baseline;
  margin-bottom: 10px;
}
.all {
  margin-left: auto;
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
  font-weight: 700;
}
.refused {
  color: var(--red);
  font-weight: 700;
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr max-content 1fr;
  gap: 3px 16px;
  margin-top: 10px;
}
dt {
  font-weight: 600;
}
@media (max-width: 820px) {
  dl {
    grid-template-columns: max-content 1fr;
  }
}
</style>
