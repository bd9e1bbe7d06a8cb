<script setup lang="ts">
/** Quotes from a file: tried first, then made; every refused row with its place. */
import { useQuery } from '@tanstack/vue-query'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useImport } from '@/kit/act/useImport'
import FileButton from '@/kit/form/FileButton.vue'
import { t, tn } from '@/words'
import FiledTables from './FiledTables.vue'

const emit = defineEmits<{ close: []; made: [] }>()
const { data: columns } = useQuery({
  queryKey: ['quote-file-columns'],
  queryFn: () => take(api.GET('/api/quotes/import')),
  staleTime: Infinity,
})
const files = useImport<Shapes['FilingOut']>((keep) => `/api/quotes/import?keep=${keep}`)
const { file, report, kept, done, busy } = files

async function make(): Promise<void> {
  if (!(await files.keep())) return
  const fresh = report.value?.filed.filter((each) => !each.there).length ?? 0
  say(fresh ? tn('quotes.file.made', fresh) : t('quotes.file.allThere'))
  emit('made')
}
</script>

<template>
  <section class="card fold" :aria-label="t('quotes.file.title')">
    <div class="chips">
      <FileButton
        :label="t('quotes.file.choose')"
        accept=".csv,.xlsx"
        primary
        :disabled="busy"
        @file="files.attempt"
      />
      <a class="btn small" href="/api/quotes/template.xlsx">{{
        t('quotes.file.template', { format: 'XLSX' })
      }}</a>
      <a class="btn small" href="/api/quotes/template.csv">{{
        t('quotes.file.template', { format: 'CSV' })
      }}</a>
      <ElButton text @click="emit('close')">{{ t('kit.step.notYet') }}</ElButton>
    </div>
    <p v-if="busy" role="status">
      {{
        done
          ? tn('quotes.file.looked', done, { file: file?.name })
          : t('quotes.file.read', { file: file?.name })
      }}
    </p>
    <template v-if="!report">
      <p>
        <b>{{ t('quotes.file.how') }}</b>
      </p>
      <dl>
        <template v-for="c in columns ?? []" :key="c.heading">
          <dt>{{ c.heading }}</dt>
          <dd>{{ c.holds }}</dd>
        </template>
      </dl>
    </template>
    <template v-else>
      <p role="status">
        <b>{{
          tn(kept ? 'quotes.file.drafts' : 'quotes.file.good', report.quotes, {
            filed: report.filed.length,
            file: file?.name,
          })
        }}</b>
        {{ report.faults.length ? t('quotes.file.refused') : '' }}
      </p>
      <FiledTables :report="report" />
      <p v-if="!kept">
        <ElButton type="primary" :loading="busy" :disabled="!report.filed.length" @click="make">{{
          tn('quotes.file.make', report.filed.length)
        }}</ElButton>
      </p>
    </template>
  </section>
</template>

<style scoped>
.fold {
  margin: 10px 0;
}
.chips {
  margin-bottom: 8px;
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 2px 14px;
  margin: 8px 0 0;
}
dt {
  font-weight: 600;
}
dd {
  margin: 0;
}
</style>
