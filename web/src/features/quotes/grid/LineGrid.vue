<script setup lang="ts">
/**
 * The line grid: text cells with one floating editor. Type letters of an item, quantity, Enter, next
 * line. The keys of the cells are in `gridKeys.ts`; folds below a line are ordinary page, where keys
 * do what they do everywhere.
 */
import { computed, nextTick, useTemplateRef, watch } from 'vue'
import type { Shapes } from '@/api/client'
import CellEditor from '@/kit/grid/CellEditor.vue'
import type { DeskLine } from '@/parts/line/line'
import PriceTrail from '@/parts/line/PriceTrail.vue'
import PromiseFold from '@/parts/promise/PromiseFold.vue'
import type { LinePromise, Proposal } from '@/parts/promise/usePromises'
import { t } from '@/words'
import { worded } from '@/words/refusals'
import { DISCOUNT, FRESH, ITEM, NAMES, PRICE, QUANTITY, UNIT } from './cells'
import ItemHits from './ItemHits.vue'
import { numbersOf } from './lineActs'
import LineRow from './LineRow.vue'
import { useGridKeys } from './useGridKeys'
import { useLineGrid } from './useLineGrid'
import './grid.css'

const props = defineProps<{
  lines: DeskLine[]
  priced: Shapes['PricedOut']
  problems: Shapes['ProblemOut'][]
  units: Record<string, string>
  lists: Record<string, string>
  currency: string
  digits: number
  editable: boolean
  margin: boolean
  customer: number
  promises: Map<string, LinePromise>
  depots: Shapes['DepotOut'][]
  /** Where text that could not be read is kept while the page is left. */
  place?: string
}>()
const emit = defineEmits<{
  /** Changes of one `step` are taken back together. */
  change: [lines: DeskLine[], step?: string]
  paste: [text: string, at: number]
  fold: [keys: string[]]
  split: [key: string, covered: string, rest: string]
  take: [key: string, proposal: Proposal]
}>()

const WIDTH = computed(() => (props.margin ? 10 : 9))
const wrap = useTemplateRef<HTMLElement>('wrap')
const overlay = useTemplateRef('overlay')
const NUMERIC = new Set<number>([QUANTITY, PRICE, DISCOUNT])
const byKey = computed(() => new Map(props.priced.lines.map((line) => [line.id, line])))
/** The break with the greatest gain for each line; they come sorted. */
const nexts = computed(
  () => new Map([...props.priced.next_breaks].reverse().map((step) => [step.line, step])),
)
const problemOf = computed(
  () => new Map(props.problems.filter((p) => p.line).map((p) => [p.line, worded(p)])),
)
const numbers = computed(() => numbersOf(props.lines))

const grid = useLineGrid({
  wrap: computed(() => wrap.value ?? undefined),
  lines: () => props.lines,
  priced: (key) => byKey.value.get(key),
  currency: () => props.currency,
  digits: () => props.digits,
  editable: () => props.editable,
  change: (lines, step) => emit('change', lines, step),
  folded: (keys) => emit('fold', keys),
  afterMark: () => overlay.value?.select(),
  place: props.editable ? props.place : '',
  take: (key) => {
    const first = props.promises.get(key)?.proposals[0]
    if (first) emit('take', key, first)
  },
})
const { cursor, editor, search, words, folded, refused, put } = grid
const keys = useGridKeys(
  grid,
  () => props.editable,
  (text, at) => emit('paste', text, at),
)
const { editing } = editor
const at = computed(() => cursor.at.value)
watch(grid.keys, () => void nextTick(() => overlay.value?.place()))
function left(): void {
  editor.leave()
  search.letGo()
}

const list = computed(() =>
  editing.value?.key === FRESH
    ? {
        id: 'item-hits',
        open: search.hits.value.length > 0,
        active: search.hits.value.length ? `item-hit-${search.at.value}` : undefined,
      }
    : undefined,
)
const label = computed(() => t(NAMES[editing.value?.col ?? ITEM] ?? 'desk.grid.item'))
const numeric = computed(() => NUMERIC.has(editing.value?.col ?? ITEM))
const choices = computed(() =>
  editing.value?.col === UNIT
    ? grid.lineOf(editing.value.key)?.item?.units.map((u) => ({ value: u.code, label: u.name }))
    : undefined,
)
defineExpose({
  /** Go to the empty row at the end. */
  start: () => cursor.go({ key: FRESH, col: ITEM }),
  /** Go to a line's quantity. */
  goTo: (row: number) => cursor.goRow(row, QUANTITY),
  settle: grid.settle,
})
</script>

<template>
  <div
    ref="wrap"
    class="line-grid"
    :class="{ margins: margin }"
    @keydown="keys.inCell"
    @paste="keys.pasted"
  >
    <table role="grid" :aria-label="t('desk.grid.label')" :aria-rowcount="lines.length + 2">
      <thead role="rowgroup">
        <tr role="row" aria-rowindex="1">
          <th scope="col" role="columnheader" class="n">#</th>
          <th scope="col" role="columnheader">{{ t('desk.grid.item') }}</th>
          <th scope="col" role="columnheader">{{ t('desk.grid.what') }}</th>
          <th scope="col" role="columnheader" class="num">{{ t('desk.grid.quantity') }}</th>
          <th scope="col" role="columnheader">{{ t('desk.grid.unit') }}</th>
          <th scope="col" role="columnheader" class="num">{{ t('desk.grid.price') }}</th>
          <th scope="col" role="columnheader" class="num">{{ t('desk.grid.discount') }}</th>
          <th scope="col" role="columnheader">{{ t('promise.column') }}</th>
          <th scope="col" role="columnheader" class="num">
            {{ t('desk.grid.net', { currency }) }}
          </th>
          <th v-if="margin" scope="col" role="columnheader" class="num">
            {{ t('desk.grid.margin') }}
          </th>
        </tr>
      </thead>
      <tbody
        role="rowgroup"
        @pointerdown="keys.pressed"
        @dblclick="keys.pressedTwice"
        @click="keys.clicked"
      >
        <template v-for="(line, n) in lines" :key="line.key">
          <LineRow
            :line="line"
            :priced="byKey.get(line.key)"
            :number="numbers[n] ?? ''"
            :place="n + 2"
            :currency="currency"
            :active="at.key === line.key ? at.col : -1"
            :open="folded.has(line.key)"
            :problem="problemOf.get(line.key)"
            :break-ahead="nexts.has(line.key)"
            :margin="margin"
            :promise="promises.get(line.key)"
            :units="units"
            :refused="refused.get(line.key)"
          />
          <tr v-if="folded.has(line.key) && byKey.get(line.key)" role="row" class="under">
            <td role="gridcell" :colspan="WIDTH" class="folded">
              <PriceTrail
                :priced="byKey.get(line.key)!"
                :next="nexts.get(line.key)"
                :units="units"
                :lists="lists"
                :currency="currency"
                :editable="editable"
                :margin="margin"
                :line="line"
                :customer="customer"
                :above="n > 0"
                @reach="(quantity) => put(line.key, { quantity })"
                @reason="(price_reason) => put(line.key, { price_reason })"
                @kind="(kind) => grid.setKind(n, kind)"
                @words="(kind) => grid.addWords(n, kind)"
                @by-rules="put(line.key, { price: null, price_reason: '' })"
                @split="(covered, rest) => emit('split', line.key, covered, rest)"
              />
              <PromiseFold
                v-if="promises.get(line.key) && line.item"
                :promise="promises.get(line.key)!"
                :depots="depots"
                :wanted="line.wanted_on"
                :item="line.item.id"
                :customer="customer"
                :editable="editable"
                @take="(proposal) => emit('take', line.key, proposal)"
                @depot="(depot_id) => put(line.key, { depot_id })"
                @wanted="(wanted_on) => put(line.key, { wanted_on })"
              />
            </td>
          </tr>
        </template>
        <tr
          v-if="editable"
          role="row"
          class="fresh"
          :data-row="FRESH"
          :aria-rowindex="lines.length + 2"
        >
          <th scope="row" role="rowheader" class="soft">+</th>
          <td
            role="gridcell"
            :data-col="ITEM"
            :tabindex="at.key === FRESH ? 0 : -1"
            :colspan="2"
            class="soft two"
            :aria-label="t('desk.grid.fresh')"
          >
            {{ refused.get(FRESH)?.[ITEM]?.text ?? t('desk.grid.freshHint') }}
          </td>
          <td role="gridcell" :colspan="WIDTH - 3" class="rest" />
        </tr>
      </tbody>
    </table>
    <CellEditor
      v-if="editing && wrap"
      ref="overlay"
      :editing="editing"
      :cell="() => cursor.element(editing!)"
      :wrap="wrap"
      :label="label"
      :numeric="numeric"
      :choices="choices"
      :list="list"
      @type="editor.type"
      @key="keys.inEditor"
      @left="left"
    >
      <ItemHits v-if="editing.key === FRESH && words" :search="search" />
    </CellEditor>
  </div>
</template>
