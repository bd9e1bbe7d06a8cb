<script setup lang="ts">
/** Cases that must not move: kept from quotes or files, run against the prices as they are. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, shallowRef } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { work } from '@/api/streams'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import FileButton from '@/kit/form/FileButton.vue'
import FindField from '@/kit/list/FindField.vue'
import ListPages from '@/kit/list/ListPages.vue'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { t, tn } from '@/words'
import CaseRow from './CaseRow.vue'

const words = defineModel<string>('words', { required: true })
const page = defineModel<string>('page', { required: true })
const client = useQueryClient()
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['kept-cases', words.value, page.value]),
  queryFn: ({ signal }) => {
    const query = { words: words.value, page: Number(page.value) || 1 }
    return take(api.GET('/api/prices/cases', { params: { query }, signal }))
  },
  placeholderData: (before) => before,
})
const { busy, run } = useAct()
const done = ref(0)
const found = shallowRef<Shapes['RunsOut'] | null>(null)
const runs = computed(() => new Map(found.value?.runs.map((each) => [each.case_id, each])))

const runAll = () =>
  run(async () => {
    done.value = 0
    found.value = await work<Shapes['RunsOut']>('/api/prices/cases/run', null, (n) => {
      done.value = n
    })
  })
const changed = () => client.invalidateQueries({ queryKey: ['kept-cases'] })
const keepFrom = (file: File) =>
  run(async () => {
    const body = new FormData()
    body.append('file', file)
    const kept = await take(
      api.POST('/api/prices/cases', { body: { file: '' }, bodySerializer: () => body }),
    )
    say(tn('prices.cases.kept', kept.length))
    await changed()
  })
const paramsOf = (row: Shapes['CaseOut']) => ({
  path: { case_id: row.id },
  query: { version: row.version },
})
async function expectAnew(row: Shapes['CaseOut']): Promise<void> {
  await run(async () => {
    await take(api.POST('/api/prices/cases/{case_id}/expect', { params: paramsOf(row) }))
    await changed()
  })
  await runAll()
}
const letGo = (row: Shapes['CaseOut']) =>
  run(async () => {
    await take(api.DELETE('/api/prices/cases/{case_id}', { params: paramsOf(row) }))
    await changed()
  })
const HEADS = ['case', 'customer', 'asOf', 'lines', 'net', 'payable', '', 'keptBy', 'lastRun', ''] as const // prettier-ignore
const NUMERIC: string[] = ['lines', 'net', 'payable']
</script>

<template>
  <div class="tools chips">
    <FindField v-model="words" :label="t('prices.cases.find')" />
    <ElButton size="small" :loading="busy" :disabled="!data?.count" @click="runAll">{{
      t('prices.cases.run')
    }}</ElButton>
    <FileButton
      :label="t('prices.cases.fromFile')"
      accept=".json"
      :disabled="busy"
      @file="keepFrom"
    />
    <span role="status" class="soft">
      <template v-if="busy && done">{{
        t('prices.cases.running', { done, all: data?.count })
      }}</template>
      <template v-else-if="found">{{
        tn('prices.cases.hold', found.cases, { held: found.cases - found.runs.length })
      }}</template>
    </span>
  </div>
  <LoadState v-if="!data" :error="error" @again="refetch()" />
  <section
    v-else
    class="card scroll"
    :class="{ stale: isPlaceholderData }"
    :aria-busy="isPlaceholderData"
    tabindex="0"
    role="region"
    :aria-label="t('prices.cases.title')"
  >
    <EmptyState v-if="!data.rows.length" :title="t('prices.cases.none')">{{
      t('prices.cases.noneHint')
    }}</EmptyState>
    <table v-else class="list">
      <thead>
        <tr>
          <th v-for="(head, n) in HEADS" :key="n" :class="{ num: NUMERIC.includes(head) }">
            {{ head ? t(`prices.cases.heads.${head}`) : '' }}
          </th>
        </tr>
      </thead>
      <tbody>
        <CaseRow
          v-for="row in data.rows"
          :key="row.id"
          :row="row"
          :run="runs.get(row.id)"
          :ran="row.id <= (found?.newest ?? 0)"
          :busy="busy"
          @expect="expectAnew(row)"
          @let-go="letGo(row)"
        />
      </tbody>
    </table>
    <ListPages v-model="page" :pages="data.pages" />
  </section>
</template>

<style scoped>
.stale > :not(nav) {
  opacity: 0.55;
}
.tools {
  margin-bottom: 10px;
}
</style>
