<script setup lang="ts">
/** The Timetable: open deals by stage and week of expected decision, and what they sum to. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { say } from '@/kit/act/notices'
import { figure, todayIso } from '@/kit/format/format'
import { useKeys } from '@/kit/keys/useKeys'
import { useFilters } from '@/kit/list/useFilters'
import ViewsMenu from '@/kit/list/ViewsMenu.vue'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import SumBar from '@/kit/show/SumBar.vue'
import { CONFIDENCES, confidenceName } from '@/parts/deal/confidence'
import { t, tn } from '@/words'
import Board from './Board.vue'
import BoardMonths from './BoardMonths.vue'
import { changesOf, wished, type OfMany, type Wish } from './many'
import ManyDeals from './ManyDeals.vue'
import { useStages, type DealRow, type StageRow } from './queries'
import TimetableFilters from './TimetableFilters.vue'
import { useMoves } from './useMoves'
import { useTimetable } from './useTimetable'
import { askTogether, useTogether } from './useTogether'
import { makeColumns } from './weeks'

const router = useRouter()
const { filters, values } = useFilters({
  words: '',
  owner: '',
  team: '',
  customer: '',
  family: '',
  confidence: '',
  stage: '',
  since: '',
  until: '',
  least: '',
  stale: '',
})
const stages = useStages()
const columns = computed(() => makeColumns(todayIso()))
const { key, deals, sums, asked } = useTimetable(values, columns)
/** The same list for as long as the same stages stand in it: new sums alone draw no filter and no rail anew. */
const rows = computed<StageRow[]>((before) => {
  const found = (stages.data.value ?? []).filter(
    (stage) =>
      stage.outcome === 'open' &&
      // A retired one as long as a deal stands on it.
      (!stage.retired || sums.data.value?.stages[stage.code]) &&
      (!values.value.stage || values.value.stage === stage.code),
  )
  const same = before?.length === found.length && found.every((stage, n) => stage === before[n])
  return same ? before : found
})
const failed = computed(() => deals.error.value ?? stages.error.value)
const { move, takeBack } = useMoves(
  () => key.value,
  (code) => rows.value.find((stage) => stage.code === code)?.name ?? code,
  asked,
)
const { change } = useTogether()
const chosen = ref<number[]>([])
watch(values, () => (chosen.value = []))
async function moveMany(many: DealRow[], wish: Wish): Promise<void> {
  if (wished(wish)) await change(many, wish, todayIso())
}
/** What is about to move: what it does to the months is asked, and told above the board. */
const aimed = shallowRef<OfMany[]>([])
function aim(many: DealRow[], wish: Wish | null): void {
  aimed.value = wish && wished(wish) ? changesOf(many, wish, todayIso()) : []
}
const preview = useQuery({
  queryKey: computed(() => ['together', aimed.value]),
  queryFn: () => askTogether(aimed.value, false),
  enabled: computed(() => aimed.value.length > 0),
  retry: false,
})
const moves = computed(() =>
  aimed.value.length ? (preview.data.value?.months ?? []).filter((m) => m.before !== m.after) : [],
)
function listed(filter: Record<string, string>): string {
  const given = Object.entries({ ...values.value, ...filter }).filter(([, value]) => value)
  return `/deals?${new URLSearchParams(given)}`
}
const barSums = computed(() => {
  const found = sums.data.value
  if (!found) return []
  return [
    { label: t('board.open'), value: figure(found.total.amount), to: listed({}) },
    { label: t('deals.form.weighted'), value: figure(found.total.weighted), main: true, to: '/forecast' }, // prettier-ignore
    ...CONFIDENCES.map((each) => ({
      label: confidenceName(each),
      value: figure(found.sums.by_confidence[each] ?? '0.00'),
      to: listed({ confidence: each }),
    })),
  ]
})
/** How many there are; of more than the board takes, how many it shows. */
const counted = computed(() => {
  const [count, shown] = [sums.data.value?.total.count ?? 0, deals.data.value?.length ?? 0]
  if (!sums.data.value) return ''
  if (shown && count > shown && !sums.isPlaceholderData.value)
    return t('board.next', { count, shown })
  return tn('board.count', count)
})
const print = () => window.print()
function again(): void {
  void deals.refetch()
  if (stages.error.value) void stages.refetch()
}
useKeys(() => ({
  title: t('board.title'),
  keys: [
    { keys: '← →', does: t('board.keys.date') },
    { keys: '↑ ↓', does: t('board.keys.stage') },
    { keys: 'M', does: t('board.keys.moveTo') },
    { keys: 'Space', does: t('board.keys.choose') },
    { keys: 'Enter', does: t('board.keys.open') },
    {
      keys: 'Ctrl Z',
      does: t('board.keys.undo'),
      act: () => takeBack() || say(t('board.nothingToUndo')),
    },
    { keys: 'T', does: t('board.keys.table'), act: () => void router.push(listed({})) },
  ],
}))
</script>

<template>
  <div class="page with-bar wide-sheet">
    <header class="top">
      <h1>{{ t('board.title') }}</h1>
      <p class="soft">
        {{ counted }}
      </p>
      <span class="tools on-screen">
        <ViewsMenu place="timetable" />
        <ElButton size="small" @click="print">{{ t('board.print') }}</ElButton>
        <RouterLink class="btn small" :to="listed({})">{{ t('board.table') }} <b>T</b></RouterLink>
        <RouterLink class="btn act" to="/deals/new">{{ t('deals.new.title') }}</RouterLink>
      </span>
    </header>
    <TimetableFilters
      v-model:words="filters.words.value"
      v-model:owner="filters.owner.value"
      v-model:team="filters.team.value"
      v-model:customer="filters.customer.value"
      v-model:family="filters.family.value"
      v-model:confidence="filters.confidence.value"
      v-model:stage="filters.stage.value"
      v-model:since="filters.since.value"
      v-model:until="filters.until.value"
      v-model:least="filters.least.value"
      v-model:stale="filters.stale.value"
      class="on-screen"
      :stages="rows"
    />
    <ManyDeals
      v-if="chosen.length"
      class="on-screen"
      :chosen="chosen"
      :rows="deals.data.value ?? []"
      @done="chosen = []"
    />
    <LoadState v-if="!deals.data.value || !rows.length" :error="failed" :rows="12" @again="again" />
    <div v-else :class="{ stale: deals.isPlaceholderData.value }">
      <BoardMonths
        v-if="sums.data.value"
        :months="sums.data.value.months"
        :moves="moves"
        :deals="listed"
      />
      <Board
        v-model:chosen="chosen"
        :stages="rows"
        :columns="columns"
        :deals="deals.data.value"
        :sums="sums.data.value"
        :listed="listed"
        @move="move"
        @move-many="moveMany"
        @aim="aim"
      />
      <EmptyState v-if="!deals.data.value.length" :title="t('board.none')">
        <RouterLink to="/deals/new">{{ t('board.first') }}</RouterLink>
      </EmptyState>
    </div>
    <SumBar :sums="barSums" :stale="sums.isPlaceholderData.value">
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
.tools {
  display: flex;
  gap: 6px;
  align-items: center;
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
