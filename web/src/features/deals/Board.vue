<script setup lang="ts">
/**
 * Stages as rails, weeks along the top. A chip moves by pointer or by arrow keys, sideways the date,
 * up and down the stage; M opens "Move to…", which does the same by choice. Space chooses a chip: the
 * chosen ones move together.
 */
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { addDays, daysBetween, figure, rough, size, todayIso } from '@/kit/format/format'
import { t } from '@/words'
import BoardCell from './BoardCell.vue'
import BoardSums from './BoardSums.vue'
import { wordsOf } from './chipWords'
import type { Wish } from './many'
import MovePanel from './MovePanel.vue'
import type { DealRow } from './queries'
import { useChipTip } from './useChipTip'
import type { Place } from './useMoves'
import type { TimetableSums } from './useTimetable'
import { type Column, columnOf } from './weeks'

const props = defineProps<{
  stages: Shapes['StageOut'][]
  columns: Column[]
  deals: DealRow[]
  sums: TimetableSums | undefined
  listed: (filter: Record<string, string>) => string
}>()
const emit = defineEmits<{
  move: [deal: DealRow, to: Partial<Place>]
  /** Several at once. */
  moveMany: [deals: DealRow[], wish: Wish]
  /** What is about to move; nothing, where it is let go of. */
  aim: [deals: DealRow[], wish: Wish | null]
}>()
const chosen = defineModel<number[]>('chosen', { required: true })
const router = useRouter()
const today = computed(todayIso)
const dragged = ref<DealRow | null>(null)
const over = ref('')
const choosing = ref<DealRow | null>(null)
const tip = useChipTip()
const WEEK = 7
const NONE: DealRow[] = []

/** By stage and column; a place where nothing changed keeps its list, so that it is not drawn again. */
const cells = computed<Map<string, DealRow[]>>((before) => {
  const map = new Map<string, DealRow[]>()
  const places = new Map<string, string | undefined>()
  const placeOf = (day: string) => {
    if (!places.has(day)) places.set(day, columnOf(props.columns, day)?.key)
    return places.get(day)
  }
  for (const deal of props.deals) {
    const key = `${deal.stage}|${placeOf(deal.decision_on)}`
    const cell = map.get(key)
    if (cell) cell.push(deal)
    else map.set(key, [deal])
  }
  for (const [key, cell] of map) {
    const known = before?.get(key)
    if (known?.length === cell.length && known.every((deal, n) => deal === cell[n])) {
      map.set(key, known)
    }
  }
  return map
})
const byId = computed(() => new Map(props.deals.map((deal) => [deal.id, deal])))
const largest = computed(() => Math.max(1, ...props.deals.map((deal) => size(deal.amount))))
const chosenSet = computed(() => new Set(chosen.value))
const dealOf = (element: Element | null | undefined) => {
  const chip = element?.closest<HTMLElement>('[data-deal]')
  return chip ? byId.value.get(Number(chip.dataset.deal)) : undefined
}
const rowOf = (event: Event) => dealOf(event.target as HTMLElement)
/** What the tip says; hidden, it is not worded anew with every move. */
const told = computed<string>((before) => {
  const deal = tip.visible.value ? dealOf(tip.at.value) : undefined
  return deal ? wordsOf(deal) : (before ?? '')
})
/** The deal, and those that are chosen with it. */
function withIt(deal: DealRow): DealRow[] {
  if (!chosenSet.value.has(deal.id)) return [deal]
  return chosen.value.flatMap((id) => byId.value.get(id) ?? [])
}
function turn(deal: DealRow): void {
  const on = chosenSet.value.has(deal.id)
  chosen.value = on ? chosen.value.filter((id) => id !== deal.id) : [...chosen.value, deal.id]
}
function wishOf(deal: DealRow, stage: string, column: Column): Wish | null {
  const stays = columnOf(props.columns, deal.decision_on)?.key === column.key
  if (column.key === 'past' && !stays) return null
  const shift = stays ? 0 : daysBetween(deal.decision_on, column.middle)
  return { stage: stage === deal.stage ? null : stage, owner: null, shift }
}
function hover(stage: string, column: Column): void {
  const place = `${stage}|${column.key}`
  if (over.value === place) return
  over.value = place
  const deal = dragged.value
  if (deal) emit('aim', withIt(deal), wishOf(deal, stage, column))
}
function letGo(): void {
  dragged.value = null
  over.value = ''
  emit('aim', [], null)
}
function drop(stage: string, column: Column): void {
  const deal = dragged.value
  letGo()
  if (!deal) return
  const wish = wishOf(deal, stage, column)
  if (!wish) say(t('board.notIntoThePast'))
  else go(deal, wish)
}
function go(deal: DealRow, wish: Wish): void {
  const rows = withIt(deal)
  if (rows.length > 1) emit('moveMany', rows, wish)
  else {
    const decision_on = wish.shift ? addDays(deal.decision_on, wish.shift) : deal.decision_on
    emit('move', deal, { stage: wish.stage ?? deal.stage, decision_on })
  }
}
function sideways(deal: DealRow, weeks: 1 | -1): void {
  const gone = deal.decision_on < today.value
  const shift = gone && weeks > 0 ? daysBetween(deal.decision_on, today.value) : WEEK * weeks
  if (addDays(deal.decision_on, shift) < today.value) say(t('board.notIntoThePast'))
  else go(deal, { stage: null, owner: null, shift })
}
function keyed(event: KeyboardEvent): void {
  const deal = rowOf(event)
  if (!deal || event.ctrlKey || event.metaKey || event.altKey) return
  const codes = props.stages.map((stage) => stage.code)
  const step = { ArrowUp: -1, ArrowDown: 1 }[event.key]
  if (event.key === 'ArrowRight') sideways(deal, 1)
  else if (event.key === 'ArrowLeft') sideways(deal, -1)
  else if (step) {
    const code = codes[codes.indexOf(deal.stage) + step]
    if (code !== undefined) go(deal, { stage: code, owner: null, shift: 0 })
  } else if (event.key === ' ') turn(deal)
  else if (event.key.toLowerCase() === 'm') choosing.value = deal
  else return
  event.preventDefault()
}
function opened(event: MouseEvent): void {
  const deal = rowOf(event)
  if (!deal) return
  if (event.ctrlKey || event.metaKey || event.shiftKey) turn(deal)
  else void router.push(`/deals/${deal.id}`)
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
        @pointerover="tip.show"
        @pointerout="tip.hide"
        @focusin="tip.show"
        @focusout="tip.hide"
        @dragstart="((dragged = rowOf($event) ?? null), tip.hide())"
        @dragend="letGo"
      >
        <tr v-for="stage in stages" :key="stage.code">
          <th scope="row" class="stage">
            <b>{{ stage.name }}</b>
            <span class="soft">{{ figure(stage.probability_percent) }} %</span>
            <span v-if="sums?.stages[stage.code]" class="soft sum">{{
              rough(sums.stages[stage.code]!.weighted)
            }}</span>
            <span class="ring" aria-hidden="true" />
          </th>
          <td
            v-for="column in columns"
            :key="column.key"
            :class="[column.kind, { over: over === `${stage.code}|${column.key}` }]"
            @dragover.prevent="hover(stage.code, column)"
            @drop.prevent="drop(stage.code, column)"
          >
            <BoardCell
              :deals="cells.get(`${stage.code}|${column.key}`) ?? NONE"
              :largest="largest"
              :chosen="chosenSet"
            />
          </td>
        </tr>
      </tbody>
      <BoardSums v-if="sums" :columns="columns" :sums="sums" :deals="listed" />
    </table>
  </div>
  <ElTooltip
    :visible="tip.visible.value && !dragged"
    :virtual-ref="tip.at.value"
    virtual-triggering
    :content="told"
    placement="top"
    transition="at-once"
    popper-class="el-tooltip-words"
  />
  <MovePanel
    v-if="choosing"
    :deal="choosing"
    :stages="stages"
    @move="(to) => (emit('move', choosing!, to), (choosing = null))"
    @aim="(wish) => emit('aim', [choosing!], wish)"
    @close="((choosing = null), emit('aim', [], null))"
  />
</template>

<style scoped src="./board.css" />
