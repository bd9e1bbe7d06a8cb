<script setup lang="ts">
/**
 * A line as text cells; the grid's one editor floats above the active cell. It listens to nothing:
 * the grid hears its cells by `data-row` and `data-col`, so that a row is drawn anew only when it
 * changes.
 */
import type { Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import { type DeskLine, wordsOnly } from '@/parts/line/line'
import { per } from '@/parts/line/per'
import { t } from '@/words'
import type { Refused } from '@/kit/grid/useCellEditor'
import type { LinePromise } from '@/parts/promise/usePromises'
import PromiseWord from '@/parts/promise/PromiseWord.vue'
import { DISCOUNT, PRICE, QUANTITY, UNIT, WHAT } from './cells'

type Priced = Shapes['PricedOut']['lines'][number]
const props = defineProps<{
  line: DeskLine
  priced?: Priced
  number: string
  /** Its place among the rows, for screen readers. */
  place: number
  currency: string
  active: number
  open: boolean
  problem?: string
  breakAhead: boolean
  margin: boolean
  promise?: LinePromise
  units: Record<string, string>
  /** Texts of cells that could not be read, by column. */
  refused?: Record<number, Refused>
}>()

function net(): string {
  if (!props.priced?.net) return '—'
  return props.line.kind === 'normal' ? figure(props.priced.net) : `(${figure(props.priced.net)})`
}
function shown(col: number): string {
  const { line, priced } = props
  const kept = props.refused?.[col]
  if (kept) return kept.text
  if (col === QUANTITY) return figure(line.quantity)
  if (col === UNIT) return props.units[line.unit] ?? line.unit
  if (col === PRICE) return priced?.price ? figure(priced.price) : '—'
  if (line.discount_amount) return `${figure(line.discount_amount)} ${props.currency}`
  return line.discount_percent ? `${figure(line.discount_percent)} %` : ''
}
function before(): string {
  if (props.line.kind === 'alternative') return t('line.instead')
  return props.line.kind === 'optional' ? t('line.option') : ''
}
const tab = (col: number) => (props.active === col ? 0 : -1)
</script>

<template>
  <tr
    v-if="wordsOnly(line)"
    role="row"
    :class="line.kind"
    :data-row="line.key"
    :aria-rowindex="place"
  >
    <th scope="row" role="rowheader" />
    <td
      role="gridcell"
      class="what rest"
      :colspan="margin ? 9 : 8"
      :data-col="WHAT"
      :tabindex="active >= 0 ? 0 : -1"
    >
      {{ line.text || (line.kind === 'heading' ? t('line.heading') : t('line.note')) }}
    </td>
  </tr>
  <tr
    v-else
    role="row"
    :class="[line.kind, { problem }]"
    :data-row="line.key"
    :aria-rowindex="place"
  >
    <th scope="row" role="rowheader">
      <button
        class="n"
        tabindex="-1"
        :aria-expanded="open"
        :aria-label="t('desk.grid.trailOf', { number })"
        :data-fold="line.key"
      >
        <span class="mark" :class="{ open }">›</span>{{ number }}
      </button>
    </th>
    <td role="gridcell" class="code" :data-col="0" :tabindex="tab(0)">{{ line.item?.code }}</td>
    <td role="gridcell" class="what" :data-col="WHAT" :tabindex="tab(WHAT)">
      {{ before() }}{{ line.text }} <span v-if="problem" class="fault">{{ problem }}</span>
    </td>
    <td
      role="gridcell"
      class="num editable quantity"
      :class="{ refused: refused?.[QUANTITY] }"
      :data-col="QUANTITY"
      :tabindex="tab(QUANTITY)"
      :aria-invalid="!!refused?.[QUANTITY]"
    >
      {{ shown(QUANTITY) }}
    </td>
    <td role="gridcell" class="editable unit" :data-col="UNIT" :tabindex="tab(UNIT)">
      {{ shown(UNIT) }}
    </td>
    <td
      role="gridcell"
      class="num editable price"
      :class="{ byhand: line.price !== null, refused: refused?.[PRICE] }"
      :data-col="PRICE"
      :data-name="t('desk.grid.price')"
      :tabindex="tab(PRICE)"
      :aria-invalid="!!refused?.[PRICE]"
    >
      <span v-if="breakAhead" class="ahead" :title="t('desk.grid.breakAhead')">◆</span>
      {{ shown(PRICE) }}<small>{{ refused?.[PRICE] ? '' : per(priced, line.unit, units) }}</small>
    </td>
    <td
      role="gridcell"
      class="num editable discount"
      :class="{ refused: refused?.[DISCOUNT] }"
      :data-col="DISCOUNT"
      :data-name="t('desk.grid.discount')"
      :tabindex="tab(DISCOUNT)"
      :aria-invalid="!!refused?.[DISCOUNT]"
    >
      {{ shown(DISCOUNT) }}
    </td>
    <td role="gridcell" class="promised"><PromiseWord v-if="promise" :promise="promise" /></td>
    <td role="gridcell" class="num net">{{ net() }}</td>
    <td v-if="margin" role="gridcell" class="num soft margin">
      {{ priced?.margin_percent ? `${figure(priced.margin_percent)} %` : '—' }}
    </td>
  </tr>
</template>
