<script setup lang="ts">
/**
 * The Timetable: stages as rows, weeks of expected decision along the top. A chip moves by pointer
 * or by arrow keys: sideways the date, up and down the stage; both can be taken back.
 */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { onKeyStroke } from '@vueuse/core'
import { computed, nextTick, ref } from 'vue'
import { useRouter } from 'vue-router'
import { Fault, api, take } from '@/api/client'
import EmptyState from '@/kit/show/EmptyState.vue'
import { addDays, count, day, figure, todayIso, rough, size } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { complain, say } from '@/kit/act/notices'
import { me } from '@/api/session'
import SumBar from '@/kit/show/SumBar.vue'
import { useFilters } from '@/kit/list/useFilters'
import { type Column, columnOf, makeColumns } from './columns'
import { CONFIDENCE, asQuery, changeDeal, useDealPage, useStages, type DealRow } from './useDeals'

const router = useRouter()
const client = useQueryClient()
const { filters, values } = useFilters({ owner: '', confidence: '', least: '' })
const stages = useStages()
const today = todayIso()
const columns = makeColumns(today)
const { data, error, refetch } = useQuery({
  queryKey: computed(() => ['timetable', values.value]),
  queryFn: () => take(api.GET('/api/timetable', { params: { query: asQuery(values.value) } })),
  placeholderData: (before) => before,
})
const page = useDealPage(
  computed(() => ({
    ...values.value,
    state: 'open',
    stage: '',
    month: '',
    words: '',
    sort: '',
    page: '',
  })),
)
const rows = computed(() => (stages.data.value ?? []).filter((s) => s.outcome === 'open'))
const cells = computed(() => {
  const map = new Map<string, DealRow[]>()
  for (const deal of data.value ?? []) {
    const key = `${deal.stage}|${columnOf(columns, deal.decision_on)?.key}`
    map.set(key, [...(map.get(key) ?? []), deal])
  }
  return map
})
const largest = computed(() => Math.max(1, ...(data.value ?? []).map((d) => size(d.amount))))
const sums = computed(() => {
  const found = page.data.value
  if (!found) return []
  return [
    { label: 'Open', value: figure(found.sums.amount), to: '/deals' },
    { label: 'Weighted', value: figure(found.sums.weighted), main: true, to: '/forecast' },
    ...Object.entries(CONFIDENCE).map(([key, label]) => ({
      label,
      value: figure(found.sums.by_confidence[key] ?? '0.00'),
      to: `/deals?confidence=${key}`,
    })),
  ]
})

interface Move {
  id: number
  from: { stage: string; decision_on: string }
}
const undoable: Move[] = []
const dragged = ref<DealRow | null>(null)
const over = ref('')

async function move(deal: DealRow, to: { stage?: string; decision_on?: string }, undo = false) {
  const change = { stage: to.stage ?? deal.stage, decision_on: to.decision_on ?? deal.decision_on }
  if (change.stage === deal.stage && change.decision_on === deal.decision_on) return
  const before = { stage: deal.stage, decision_on: deal.decision_on }
  try {
    await changeDeal(deal.id, deal.version, change)
    if (!undo) undoable.push({ id: deal.id, from: before })
    await Promise.all([refetch(), client.invalidateQueries({ queryKey: ['deals'] })])
    const stage = rows.value.find((s) => s.code === change.stage)?.name
    const words = undo ? 'Taken back' : `${deal.customer}: ${stage}, ${day(change.decision_on)}`
    say(words, undo ? undefined : () => void takeBack())
  } catch (fault) {
    complain(fault)
    if (fault instanceof Fault && fault.status === 409) await refetch()
  }
  await nextTick()
  document.querySelector<HTMLElement>(`[data-deal="${deal.id}"]`)?.focus()
}

async function takeBack(): Promise<void> {
  const last = undoable.pop()
  const deal = data.value?.find((d) => d.id === last?.id)
  if (last && deal) await move(deal, last.from, true)
}

function drop(stage: string, column: Column): void {
  over.value = ''
  const deal = dragged.value
  dragged.value = null
  if (!deal) return
  const stays = columnOf(columns, deal.decision_on)?.key === column.key
  if (column.key === 'past' && !stays) {
    say('A decision cannot be moved into the past.')
    return
  }
  void move(deal, { stage, decision_on: stays ? deal.decision_on : column.middle })
}

function key(event: KeyboardEvent, deal: DealRow): void {
  const codes = rows.value.map((s) => s.code)
  const at = codes.indexOf(deal.stage)
  const later = deal.decision_on < today ? today : addDays(deal.decision_on, 7)
  const acts: Record<string, () => void> = {
    ArrowRight: () => void move(deal, { decision_on: later }),
    ArrowLeft: () => {
      const sooner = addDays(deal.decision_on, -7)
      if (sooner < today) say('A decision cannot be moved into the past.')
      else void move(deal, { decision_on: sooner })
    },
    ArrowUp: () => void (at > 0 && move(deal, { stage: codes[at - 1] })),
    ArrowDown: () => void (at < codes.length - 1 && move(deal, { stage: codes[at + 1] })),
    Enter: () => void router.push(`/deals/${deal.id}`),
  }
  const act = acts[event.key]
  if (act && !event.ctrlKey && !event.altKey) {
    event.preventDefault()
    act()
  }
}

onKeyStroke('z', (event) => {
  if (event.ctrlKey || event.metaKey) {
    event.preventDefault()
    void takeBack()
  }
})
onKeyStroke('t', (event) => {
  if (!event.ctrlKey && !/INPUT|SELECT/.test((event.target as HTMLElement).tagName)) {
    void router.push('/deals')
  }
})

function height(deal: DealRow): string {
  return `${34 + Math.round(22 * Math.sqrt(size(deal.amount) / largest.value))}px`
}
function words(deal: DealRow): string {
  return `${deal.customer}, ${deal.title}, ${figure(deal.amount)}, ${deal.stage_name}, ${day(deal.decision_on)}, ${CONFIDENCE[deal.confidence]}`
}
</script>

<template>
  <div class="page with-bar wide">
    <header class="top">
      <h1>Timetable</h1>
      <p class="soft">
        {{ data ? count(data.length, 'open deal') : '' }}, by stage and week of expected decision
      </p>
      <div class="chips">
        <select v-if="me?.leads" v-model="filters.owner.value" class="input pick" aria-label="Rep">
          <option value="">The whole team</option>
          <option v-for="p in me.people" :key="p.id" :value="String(p.id)">{{ p.name }}</option>
        </select>
        <button
          v-for="(name, conf) in CONFIDENCE"
          :key="conf"
          class="btn small"
          :aria-pressed="values.confidence === conf"
          @click="filters.confidence.value = values.confidence === conf ? '' : conf"
        >
          {{ name }}
        </button>
        <button
          class="btn small"
          :aria-pressed="values.least === '10000'"
          @click="filters.least.value = values.least ? '' : '10000'"
        >
          Over 10&#8239;000
        </button>
        <RouterLink class="btn small" to="/deals">Table <b>T</b></RouterLink>
        <RouterLink class="btn act" to="/deals/new">New deal</RouterLink>
      </div>
    </header>
    <LoadState v-if="!data || !rows.length" :error="error" :rows="12" @again="refetch()" />
    <div v-else class="scroll">
      <table class="board">
        <thead>
          <tr>
            <td class="stage" />
            <th v-for="column in columns" :key="column.key" scope="col" :class="column.kind">
              {{ column.name }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="stage in rows" :key="stage.code">
            <th scope="row" class="stage">
              <b>{{ stage.name }}</b>
              <span class="soft">{{ figure(stage.probability_percent) }} %</span>
              <span class="ring" aria-hidden="true" />
            </th>
            <td
              v-for="column in columns"
              :key="column.key"
              :class="[column.kind, { over: over === `${stage.code}|${column.key}` }]"
              @dragover.prevent="over = `${stage.code}|${column.key}`"
              @dragleave="over = ''"
              @drop.prevent="drop(stage.code, column)"
            >
              <button
                v-for="deal in cells.get(`${stage.code}|${column.key}`) ?? []"
                :key="deal.id"
                class="deal"
                :class="[deal.confidence, { past: deal.overdue }]"
                :style="{ minHeight: height(deal) }"
                :data-deal="deal.id"
                :aria-label="words(deal)"
                :title="words(deal)"
                draggable="true"
                @dragstart="dragged = deal"
                @dragend="dragged = null"
                @click="router.push(`/deals/${deal.id}`)"
                @keydown="key($event, deal)"
              >
                <b>{{ deal.customer }}</b>
                <span>{{ rough(deal.amount) }}</span>
              </button>
            </td>
          </tr>
        </tbody>
      </table>
      <EmptyState v-if="!data.length" title="No open deal here">
        <RouterLink to="/deals/new">Make the first one</RouterLink>, and it takes its place by stage
        and date.
      </EmptyState>
    </div>
    <SumBar :sums="sums">
      <span class="hint">← → moves the date, ↑ ↓ the stage, Enter opens, Ctrl Z takes it back</span>
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
.pick {
  width: auto;
}
.board {
  width: 100%;
  min-width: 980px;
  border-collapse: collapse;
  table-layout: fixed;
}
.board thead th {
  font-size: 12px;
  font-weight: 600;
  padding: 4px 0 6px;
}
.board thead th.now {
  font-weight: 800;
}
.board thead th.past {
  color: var(--red);
}
.stage {
  width: 106px;
  position: relative;
  text-align: left;
  font-weight: 400;
}
.stage b {
  display: block;
  font-size: 15px;
}
.stage span {
  font-size: 12px;
}
.stage .ring {
  position: absolute;
  right: 2px;
  top: calc(50% - 7px);
  width: 14px;
  height: 14px;
  border-radius: 50%;
  border: 3.5px solid var(--ink);
  background: var(--paper);
  z-index: 1;
}
.board tbody td {
  position: relative;
  height: 108px;
  padding: 6px 5px;
  vertical-align: middle;
  background: linear-gradient(var(--stop-ahead), var(--stop-ahead)) center / 100% 2.5px no-repeat
    var(--sheet);
}
.board tbody td:nth-child(odd) {
  background-color: color-mix(in srgb, var(--sheet) 50%, var(--paper));
}
.board tbody td.past {
  background-color: var(--red-soft);
}
.board tbody td.over {
  box-shadow: inset 0 0 0 2px var(--coral);
}
.deal {
  position: relative;
  display: flex;
  flex-direction: column;
  justify-content: center;
  width: 100%;
  margin: 3px 0;
  padding: 3px 8px;
  text-align: left;
  background: var(--sheet);
  border: 2px solid var(--teal);
  border-radius: 5px;
  cursor: grab;
}
.deal b {
  font-size: 12px;
  line-height: 1.2;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.deal span {
  font-size: 12px;
  color: var(--ink-2);
}
.deal.sure {
  background: var(--teal-soft);
}
.deal.likely {
  border-style: dashed;
}
.deal.stretch {
  border-style: dotted;
}
.deal.past {
  border-color: var(--red);
}
.deal:focus-visible {
  outline: 3px solid var(--coral);
  outline-offset: 1px;
}
.hint {
  color: var(--on-bar-2);
}
@media (max-width: 820px) {
  .hint {
    display: none;
  }
}
</style>
