<script setup lang="ts">
/** What everybody is to win, month by month: typed, from a year before, or from a file; set by those who may. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { useKeptForm } from '@/kit/draft/useKeptForm'
import FileButton from '@/kit/form/FileButton.vue'
import { readNumber } from '@/kit/format/readNumber'
import ExportLinks from '@/kit/list/ExportLinks.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { t, tn } from '@/words'
import { worded } from '@/words/refusals'
import { changesOf, inMonth, typedOf, type Typed } from './targets'
import TargetChanges from './TargetChanges.vue'
import TargetsTable from './TargetsTable.vue'

const emit = defineEmits<{ close: [] }>()
const client = useQueryClient()
const { data, error, refetch } = useQuery({
  queryKey: ['forecast', 'targets'],
  queryFn: ({ signal }) => take(api.GET('/api/targets', { signal })),
})
const { form, clear } = useKeptForm<Typed>(me.value?.id ?? 0, 'targets', 2, () => ({}))
const said = ref('')
const refused = ref<Shapes['TargetRefused'][]>([])
const { busy, run } = useAct((fault) => {
  if (fault.status === 409) void refetch()
})
const typed = computed({
  get: () => form.value,
  set: (now) => {
    form.value = now
    said.value = ''
  },
})
const change = computed(() => (data.value ? changesOf(data.value, form.value) : null))
const factor = ref('1')
const fill = (of: 'targets' | 'won') =>
  run(async () => {
    const read = readNumber(factor.value)
    if (!read || !('value' in read)) {
      said.value = t('forecast.targets.noFactor')
      return
    }
    const query = { factor: read.value, of }
    const rows = await take(api.GET('/api/targets/proposed', { params: { query } }))
    said.value = rows.length ? '' : t('forecast.targets.nothingBefore')
    form.value = { ...form.value, ...typedOf(rows) }
  })
const readFile = (file: File) =>
  run(async () => {
    const body = new FormData()
    body.append('file', file)
    const told = await take(
      api.POST('/api/targets/file', { body: { file: '' }, bodySerializer: () => body }),
    )
    form.value = { ...form.value, ...typedOf(told.targets) }
    refused.value = told.refused
    const many = told.targets.length
    said.value = many ? tn('forecast.targets.read', many) : t('forecast.targets.nothingRead')
  })
const keep = () =>
  run(async () => {
    if (!change.value) return
    const { rows, unread } = change.value
    if (unread) {
      said.value = t('forecast.targets.unread', inMonth(unread.row, unread.month))
      return
    }
    if (rows.length) await take(api.PUT('/api/targets', { body: { rows } }))
    clear()
    await client.invalidateQueries({ queryKey: ['forecast'] })
    say(t('forecast.targets.kept'))
    emit('close')
  })
</script>

<template>
  <section class="card targets" :aria-label="t('forecast.targets.title')">
    <header>
      <h2>{{ t('forecast.targets.title') }}</h2>
      <span class="soft">{{ t('forecast.targets.hint', { currency: data?.currency ?? '' }) }}</span>
    </header>
    <LoadState v-if="!data" :error="error" :rows="3" @again="refetch()" />
    <form v-else @submit.prevent="keep" @keydown.esc="emit('close')">
      <TargetsTable v-model="typed" :known="data" />
      <p v-if="said" class="fault" role="alert">{{ said }}</p>
      <ul v-if="refused.length" class="fault">
        <li v-for="row in refused" :key="row.row">
          {{ t('forecast.targets.row', { n: row.row, why: worded(row.fault) }) }}
        </li>
      </ul>
      <div class="foot">
        <ElButton v-if="data.may_set" type="primary" native-type="submit" :loading="busy">{{
          t('forecast.targets.keep')
        }}</ElButton>
        <ElButton text @click="emit('close')">{{ t('kit.step.notYet') }}</ElButton>
        <span v-if="data.may_set" class="fill">
          {{ t('forecast.targets.fill') }}
          <ElInput
            v-model="factor"
            size="small"
            class="factor"
            inputmode="decimal"
            :aria-label="t('forecast.targets.factor')"
            @keydown.enter.prevent="fill('targets')"
          />
          <ElButton size="small" :disabled="busy" @click="fill('targets')">{{
            t('forecast.targets.ofTargets')
          }}</ElButton>
          <ElButton size="small" :disabled="busy" @click="fill('won')">{{
            t('forecast.targets.ofWon')
          }}</ElButton>
          <FileButton
            :label="t('forecast.targets.file')"
            accept=".csv,.xlsx"
            :disabled="busy"
            @file="readFile"
          />
        </span>
        <ExportLinks path="/api/targets" :values="{}" />
      </div>
    </form>
    <TargetChanges />
  </section>
</template>

<style scoped>
.targets {
  margin-top: 12px;
}
.foot {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
  margin-top: 8px;
}
.fill {
  display: flex;
  gap: 6px;
  align-items: center;
  margin-left: auto;
}
.factor {
  width: 70px;
}
</style>
