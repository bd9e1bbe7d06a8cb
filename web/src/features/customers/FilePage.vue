<script setup lang="ts">
/** Customers, people and places from a file: tried first, doubles decided one by one, then taken in; and all into one. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useImport } from '@/kit/act/useImport'
import FilingCard from '@/parts/filing/FilingCard.vue'
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
const { report } = files
const KINDS = ['xlsx', 'csv', 'vcf'] as const
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
    <FilingCard
      v-slot="{ report: found, kept }"
      of="customers"
      :files="files"
      template="/api/customer-files/template"
      :columns="columns ?? []"
      :states="['new', 'changed', 'same', 'double', 'refused']"
      :coming="willCome"
      @file="attempt"
      @keep="keep"
    >
      <FiledCustomers v-model="anyway" :report="found" :kept="kept" />
    </FilingCard>
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
</style>
