<script setup lang="ts">
/** One kind of price record: found, exported, and (by an administrator) changed with a preview. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { useImport } from '@/kit/act/useImport'
import FileButton from '@/kit/form/FileButton.vue'
import ExportLinks from '@/kit/list/ExportLinks.vue'
import FindField from '@/kit/list/FindField.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { t, tn } from '@/words'
import type { Shapes } from '@/api/client'
import ImportReport from './ImportReport.vue'
import RecordForm from './RecordForm.vue'
import RecordTable from './RecordTable.vue'
import { kindName, staleByPrice, useRecords, type Kind, type PriceRecord } from './queries'

const props = defineProps<{ kind: Kind }>()
const words = defineModel<string>('words', { required: true })
const page = defineModel<string>('page', { required: true })
const client = useQueryClient()
const { name } = props.kind
const { data, error, refetch, isPlaceholderData } = useRecords(name, words, page)
const keeps = computed(() => me.value?.keeps ?? false)
/** What is being changed: a record, a new one, or nothing. */
const open = ref<PriceRecord | 'new' | null>(null)
const files = useImport<Shapes['ReportOut']>((keep) => `/api/prices/import/${name}?keep=${keep}`)
const { file, report, done, busy } = files

async function changed(): Promise<void> {
  open.value = null
  await staleByPrice(client)
}
async function takeIn(): Promise<void> {
  if (!(await files.keep())) return
  say(tn('prices.file.taken', report.value?.good ?? 0))
  files.letGo()
  await staleByPrice(client)
}
</script>

<template>
  <div class="tools chips">
    <FindField v-model="words" :label="t('prices.find', { kind: kindName(kind) })" />
    <ElButton v-if="keeps" size="small" @click="open = 'new'">{{ t('prices.add') }}</ElButton>
    <FileButton
      v-if="keeps"
      :label="t('prices.file.choose')"
      accept=".csv,.xlsx"
      :disabled="busy"
      @file="files.attempt"
    />
    <ExportLinks :path="`/api/prices/files/${name}`" :values="{ words }" />
  </div>
  <p v-if="busy && file" class="soft" role="status">
    {{ tn('prices.file.looked', done, { file: file.name }) }}
  </p>
  <ImportReport
    v-if="report && file"
    :report="report"
    :file="file.name"
    :busy="busy"
    @keep="takeIn"
    @close="files.letGo"
  />
  <RecordForm
    v-if="open"
    :key="open === 'new' ? 'new' : open.id"
    :kind="kind"
    :record="open === 'new' ? null : open"
    @changed="changed"
    @close="open = null"
  />
  <LoadState v-if="!data" :error="error" @again="refetch()" />
  <RecordTable
    v-else
    v-model:page="page"
    :kind="kind"
    :found="data"
    :open="open === 'new' ? '' : (open?.id ?? '')"
    :keeps="keeps"
    :stale="isPlaceholderData"
    @change="(row) => (open = row)"
  />
</template>

<style scoped>
.tools {
  margin-bottom: 10px;
}
</style>
