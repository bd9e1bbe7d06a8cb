<script setup lang="ts">
/** The pipeline as an administrator keeps it: stages in their order with what they ask for, and why deals are closed. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import type { Fault } from '@/api/fault'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import { figure } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'
import { asSent, linesOf, moved, type Pipeline, type StageLine } from './pipeline'

const client = useQueryClient()
const { data, error, refetch } = useQuery({
  queryKey: ['pipeline'],
  queryFn: ({ signal }) => take(api.GET('/api/pipeline', { signal })),
})
const form = ref<Pipeline>({ stages: [], reasons: [] })
const fault = ref<Fault | null>(null)
const fresh = (told: Shapes['PipelineOut']) => (form.value = linesOf(told))
watch(data, (told) => told && fresh(told), { immediate: true })
const changed = computed(
  () => data.value && JSON.stringify(form.value) !== JSON.stringify(linesOf(data.value)),
)
const ASKS = ['', 'quote', 'decider'] as const
const asks = ASKS.map((value) => ({ value, label: t(`deals.pipeline.asks.${value || 'nothing'}`) }))
const OUTCOMES = ['won', 'lost', 'parked'] as const
const ofOutcome = (outcome: string) => form.value.reasons.filter((each) => each.outcome === outcome)
const add = () =>
  form.value.stages.push({ id: null, name: '', percent: '10', asks: '', retired: false })
const addReason = (outcome: (typeof OUTCOMES)[number]) =>
  form.value.reasons.push({ id: null, outcome, name: '', retired: false })
const move = (line: StageLine, by: 1 | -1) =>
  (form.value.stages = moved(form.value.stages, line, by))
const { busy, run } = useAct((refused) => {
  fault.value = refused
  if (refused.status === 409) void refetch()
})
const keep = () =>
  run(async () => {
    fault.value = null
    const body = { ...asSent(form.value), seen: data.value?.seen ?? '' }
    client.setQueryData(['pipeline'], await take(api.PUT('/api/pipeline', { body })))
    for (const key of ['stages', 'reasons', 'deals', 'timetable', 'forecast']) void client.invalidateQueries({ queryKey: [key] }) // prettier-ignore
    say(t('deals.pipeline.kept'))
  })
</script>

<template>
  <div class="page narrow">
    <header class="top">
      <h1>{{ t('deals.pipeline.title') }}</h1>
      <p class="soft">{{ t('deals.pipeline.hint') }}</p>
    </header>
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <form v-else @submit.prevent="keep">
      <section class="card">
        <table class="list">
          <thead>
            <tr>
              <th>{{ t('deals.pipeline.order') }}</th>
              <th>{{ t('deals.form.stage') }}</th>
              <th class="num">{{ t('deals.form.probability') }} %</th>
              <th>{{ t('deals.pipeline.asksFor') }}</th>
              <th>{{ t('deals.pipeline.retired') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="(line, n) in form.stages"
              :key="line.id ?? `n${n}`"
              :class="{ soft: line.retired }"
            >
              <td class="order">
                <ElButton
                  size="small"
                  :disabled="n === 0"
                  :aria-label="t('deals.pipeline.up', { name: line.name })"
                  @click="move(line, -1)"
                  >↑</ElButton
                >
                <ElButton
                  size="small"
                  :disabled="n === form.stages.length - 1"
                  :aria-label="t('deals.pipeline.down', { name: line.name })"
                  @click="move(line, 1)"
                  >↓</ElButton
                >
              </td>
              <td>
                <ElInput
                  v-model="line.name"
                  maxlength="30"
                  :aria-label="t('deals.pipeline.nameOf', { n: n + 1 })"
                />
              </td>
              <td class="num">
                <ElInput
                  v-model="line.percent"
                  class="percent"
                  inputmode="decimal"
                  :aria-label="t('deals.pipeline.percentOf', { name: line.name })"
                />
              </td>
              <td>
                <ChoiceField
                  bare
                  small
                  :model-value="line.asks"
                  :choices="asks"
                  :label="t('deals.pipeline.asksOf', { name: line.name })"
                  @update:model-value="(now) => (line.asks = now ?? '')"
                />
              </td>
              <td>
                <ElCheckbox
                  v-model="line.retired"
                  :aria-label="t('deals.pipeline.retiredOf', { name: line.name })"
                />
              </td>
            </tr>
          </tbody>
        </table>
        <ElButton size="small" @click="add">{{ t('deals.pipeline.add') }}</ElButton>
        <p class="soft">
          {{ t('deals.pipeline.closed') }}
          <template
            v-for="stage in data.stages.filter((each) => each.outcome !== 'open')"
            :key="stage.id"
          >
            {{ stage.name }} ({{ figure(stage.probability_percent) }} %)
          </template>
        </p>
      </section>
      <div class="reasons">
        <section v-for="outcome in OUTCOMES" :key="outcome" class="card">
          <h2>{{ t(`deals.closing.${outcome}`) }}</h2>
          <p
            v-for="(line, n) in ofOutcome(outcome)"
            :key="line.id ?? `n${n}`"
            class="reason"
            :class="{ soft: line.retired }"
          >
            <ElInput
              v-model="line.name"
              maxlength="60"
              :aria-label="t('deals.pipeline.reasonOf', { n: n + 1 })"
            />
            <ElCheckbox
              v-model="line.retired"
              :aria-label="t('deals.pipeline.retiredOf', { name: line.name })"
              >{{ t('deals.pipeline.retired') }}</ElCheckbox
            >
          </p>
          <ElButton size="small" @click="addReason(outcome)">{{
            t('deals.pipeline.addReason')
          }}</ElButton>
        </section>
      </div>
      <p v-if="fault" class="fault" role="alert">{{ fault.message }}</p>
      <p class="acts">
        <ElButton type="primary" native-type="submit" :loading="busy" :disabled="!changed">{{
          t('deals.pipeline.keep')
        }}</ElButton>
        <ElButton v-if="changed" text @click="data && fresh(data)">{{
          t('kit.step.notYet')
        }}</ElButton>
      </p>
    </form>
  </div>
</template>

<style scoped>
.page {
  --bar-height: 0px;
}
.order :deep(.el-button) {
  margin: 0 4px 0 0;
}
td :deep(.el-input) {
  margin: 2px 0;
}
.order {
  white-space: nowrap;
}
.percent {
  width: 80px;
}
.reasons {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(240px, 1fr));
  gap: 14px;
  margin-top: 14px;
}
.reason {
  display: flex;
  gap: 10px;
  margin-bottom: 6px;
}
.acts {
  margin-top: 12px;
}
</style>
