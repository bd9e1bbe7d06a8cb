<script setup lang="ts">
/**
 * Stages as rails, weeks along the top. A chip moves by pointer or by arrow keys, sideways the date,
 * up and down the stage; M opens "Move to…", which does the same by choice.
 */
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { addDays, figure, size, todayIso } from '@/kit/format/format'
import { t } from '@/words'
import DealChip from './DealChip.vue'
import MovePanel from './MovePanel.vue'
import type { DealRow } from './queries'
import type { Place } from './useMoves'
import { type Column, columnOf, makeColumns } from './weeks'

const props = defineProps<{ stages: Shapes['StageOut'][]; deals: DealRow[] }>()
const emit = defineEmits<{ move: [deal: DealRow, to: Partial<Place>] }>()
const router = useRouter()
const today = computed(todayIso)
const columns = computed(() => makeColumns(today.value))
const dragged = ref<DealRow | null>(null)
const over = ref('')
const choosing = ref<DealRow | null>(null)
const LEAST_PX = 34
const MOST_PX = 22
const WEEK = 7

const cells = computed(() => {
  const map = new Map<string, DealRow[]>()
  for (const deal of props.deals) {
    const key = `${deal.stage}|${columnOf(columns.value, deal.decision_on)?.key}`
    map.set(key, [...(map.get(key) ?? []), deal])
  }
  return map
})
const largest = computed(() => Math.max(1, ...props.deals.map((deal) => size(deal.amount))))
const height = (deal: DealRow) =>
  LEAST_PX + Math.round(MOST_PX * Math.sqrt(size(deal.amount) / largest.value))
const rowOf = (event: Event) => {
  const id = (event.target as HTMLElement).closest<HTMLElement>('[data-deal]')?.dataset.deal
  return props.deals.find((deal) => String(deal.id) === id)
}

function drop(stage: string, column: Column): void {
  over.value = ''
  const deal = dragged.value
  dragged.value = null
  if (!deal) return
  const stays = columnOf(columns.value, deal.decision_on)?.key === column.key
  if (column.key === 'past' && !stays) say(t('board.notIntoThePast'))
  else emit('move', deal, { stage, decision_on: stays ? deal.decision_on : column.middle })
}
function sideways(deal: DealRow, weeks: 1 | -1): void {
  const gone = deal.decision_on < today.value
  const to = gone && weeks > 0 ? today.value : addDays(deal.decision_on, WEEK * weeks)
  if (to < today.value) say(t('board.notIntoThePast'))
  else emit('move', deal, { decision_on: to })
}
function keyed(event: KeyboardEvent): void {
  const deal = rowOf(event)
  if (!deal || event.ctrlKey || event.metaKey || event.altKey) return
  const codes = props.stages.map((stage) => stage.code)
  const stage = codes.indexOf(deal.stage)
  const step = { ArrowUp: -1, ArrowDown: 1 }[event.key]
  if (event.key === 'ArrowRight') sideways(deal, 1)
  else if (event.key === 'ArrowLeft') sideways(deal, -1)
  else if (step) {
    const code = codes[stage + step]
    if (code !== undefined) emit('move', deal, { stage: code })
  } else if (event.key.toLowerCase() === 'm') choosing.value = deal
  else return
  event.preventDefault()
}
function opened(event: Event): void {
  const deal = rowOf(event)
  if (deal) void router.push(`/deals/${deal.id}`)
}
</script>

<template>
  <div class="scroll">
    <table class="board">
      <thead>
        <tr>
          <td class="stage" />
          <th v-for="column in columns" :key="column.key" scope="col" :class="column.kind">
            {{ column.name }}
          </th>
        </tr>
      </thead>
      <tbody
        @keydown="keyed"
        @click="opened"
        @dragstart="dragged = rowOf($event) ?? null"
        @dragend="dragged = null"
      >
        <tr v-for="stage in stages" :key="stage.code">
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
            <DealChip
              v-for="deal in cells.get(`${stage.code}|${column.key}`) ?? []"
              :key="deal.id"
              :deal="deal"
              :height="height(deal)"
            />
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <MovePanel
    v-if="choosing"
    :deal="choosing"
    :stages="stages"
    @move="(to) => (emit('move', choosing!, to), (choosing = null))"
    @close="choosing = null"
  />
</template>

<style scoped>
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
</style>
