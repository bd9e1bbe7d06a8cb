<script setup lang="ts">
/** The Timetable: open deals by stage and week of expected decision, and what they sum to. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import { say } from '@/kit/act/notices'
import { figure } from '@/kit/format/format'
import { useKeys } from '@/kit/keys/useKeys'
import RepFilter from '@/kit/list/RepFilter.vue'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { useFilters } from '@/kit/list/useFilters'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import SumBar from '@/kit/show/SumBar.vue'
import { CONFIDENCES, confidenceChoices, confidenceName } from '@/parts/deal/confidence'
import { t, tn } from '@/words'
import Board from './Board.vue'
import { asQuery, useDealPage, useStages } from './queries'
import { useMoves } from './useMoves'

const router = useRouter()
const { filters, values } = useFilters({ owner: '', confidence: '', least: '' })
/** What counts as large. */
const LARGE = '10000'
const stages = useStages()
const key = computed(() => ['timetable', values.value])
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: key,
  queryFn: ({ signal }) =>
    take(api.GET('/api/timetable', { params: { query: asQuery(values.value) }, signal })),
  placeholderData: (before) => before,
})
const page = useDealPage(computed(() => ({ ...values.value, state: 'open' })))
const rows = computed(() => (stages.data.value ?? []).filter((s) => s.outcome === 'open'))
const failed = computed(() => error.value ?? stages.error.value)
const { move, takeBack } = useMoves(
  () => key.value,
  (code) => rows.value.find((stage) => stage.code === code)?.name ?? code,
)
const sums = computed(() => {
  const found = page.data.value?.sums
  if (!found) return []
  return [
    { label: t('board.open'), value: figure(found.amount), to: '/deals' },
    { label: t('deals.form.weighted'), value: figure(found.weighted), main: true, to: '/forecast' }, // prettier-ignore
    ...CONFIDENCES.map((each) => ({
      label: confidenceName(each),
      value: figure(found.by_confidence[each] ?? '0.00'),
      to: `/deals?confidence=${each}`,
    })),
  ]
})
const confidences = computed(() => [{ value: '', label: t('list.all') }, ...confidenceChoices()])
const large = computed({
  get: () => values.value.least === LARGE,
  set: (on) => (filters.least.value = on ? LARGE : ''),
})
function again(): void {
  void refetch()
  if (stages.error.value) void stages.refetch()
}
useKeys(() => ({
  title: t('board.title'),
  keys: [
    { keys: '← →', does: t('board.keys.date') },
    { keys: '↑ ↓', does: t('board.keys.stage') },
    { keys: 'M', does: t('board.keys.moveTo') },
    { keys: 'Enter', does: t('board.keys.open') },
    {
      keys: 'Ctrl Z',
      does: t('board.keys.undo'),
      act: () => takeBack() || say(t('board.nothingToUndo')),
    },
    { keys: 'T', does: t('board.keys.table'), act: () => void router.push('/deals') },
  ],
}))
</script>

<template>
  <div class="page with-bar">
    <header class="top">
      <h1>{{ t('board.title') }}</h1>
      <p class="soft">{{ data ? tn('board.count', data.length) : '' }}</p>
      <div class="chips">
        <RepFilter v-model="filters.owner.value" />
        <SegmentFilter
          v-model="filters.confidence.value"
          :choices="confidences"
          :label="t('deals.form.confidence')"
        />
        <ElCheckbox v-model="large">{{ t('board.large', { amount: figure(LARGE) }) }}</ElCheckbox>
        <RouterLink class="btn small" to="/deals">{{ t('board.table') }} <b>T</b></RouterLink>
        <RouterLink class="btn act" to="/deals/new">{{ t('deals.new.title') }}</RouterLink>
      </div>
    </header>
    <LoadState v-if="!data || !rows.length" :error="failed" :rows="12" @again="again" />
    <div v-else :class="{ stale: isPlaceholderData }">
      <Board :stages="rows" :deals="data" @move="move" />
      <EmptyState v-if="!data.length" :title="t('board.none')">
        <RouterLink to="/deals/new">{{ t('board.first') }}</RouterLink>
      </EmptyState>
    </div>
    <SumBar :sums="sums" :stale="page.isPlaceholderData.value">
      <span class="hint">{{ t('board.hint') }}</span>
    </SumBar>
  </div>
</template>

<style scoped>
.top {
  display: flex;
  align-items: baseline;
  gap: 6px 14px;
  flex-wrap: wrap;
  margin-bottom: 8px;
}
.top p {
  flex: 1;
}
.stale {
  opacity: 0.55;
}
.hint {
  color: var(--on-bar-2);
}
@media (max-width: 1180px) {
  .hint {
    display: none;
  }
}
</style>
