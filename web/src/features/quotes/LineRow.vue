<script setup lang="ts">
/**
 * A line as text cells; the grid's one editor floats above the active cell. It listens to nothing:
 * the grid hears its cells by their `data-cell`, so that a row is drawn anew only when it changes.
 */
import type { Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import { type DeskLine, wordsOnly } from '@/parts/line/line'

type Priced = Shapes['PricedOut']['lines'][number]
defineProps<{
  line: DeskLine
  priced?: Priced
  n: number
  number: string
  currency: string
  active: number
  open: boolean
  problem?: string
  breakAhead: boolean
  margin: boolean
  units: Record<string, string>
}>()
const KINDS: Record<string, string> = { alternative: 'instead: ', optional: 'option: ' }

function per(priced: Priced | undefined, unit: string, units: Record<string, string>): string {
  if (!priced?.price) return ''
  if (priced.unit === unit && priced.per === '1') return ''
  return `/${priced.per === '1' ? '' : `${figure(priced.per)} `}${units[priced.unit] ?? priced.unit}`
}
function net(line: DeskLine, priced: Priced | undefined): string {
  if (!priced?.net) return '—'
  return line.kind === 'normal' ? figure(priced.net) : `(${figure(priced.net)})`
}
function off(line: DeskLine, currency: string): string {
  if (line.discount_amount) return `${figure(line.discount_amount)} ${currency}`
  return line.discount_percent ? figure(line.discount_percent) : ''
}
</script>

<template>
  <tr v-if="wordsOnly(line)" :class="line.kind">
    <th scope="row" role="rowheader" />
    <td
      role="gridcell"
      class="what rest"
      :colspan="margin ? 8 : 7"
      :data-cell="`${n}:1`"
      :tabindex="active >= 0 ? 0 : -1"
    >
      {{ line.text || (line.kind === 'heading' ? 'Heading' : 'Note') }}
    </td>
  </tr>
  <tr v-else :class="[line.kind, { problem }]">
    <th scope="row" role="rowheader">
      <button
        class="n"
        tabindex="-1"
        :aria-expanded="open"
        :aria-label="`Line ${number}: price trail`"
        :data-fold="line.key"
      >
        <span class="mark" :class="{ open }">›</span>{{ number }}
      </button>
    </th>
    <td role="gridcell" :data-cell="`${n}:0`" :tabindex="active === 0 ? 0 : -1">
      {{ line.item?.code }}
    </td>
    <td role="gridcell" class="what" :data-cell="`${n}:1`" :tabindex="active === 1 ? 0 : -1">
      {{ KINDS[line.kind] }}{{ line.text }} <span v-if="problem" class="fault">{{ problem }}</span>
    </td>
    <td
      role="gridcell"
      class="num editable"
      :data-cell="`${n}:2`"
      :tabindex="active === 2 ? 0 : -1"
    >
      {{ figure(line.quantity) }}
    </td>
    <td role="gridcell" class="editable" :data-cell="`${n}:3`" :tabindex="active === 3 ? 0 : -1">
      {{ units[line.unit] ?? line.unit }}
    </td>
    <td
      role="gridcell"
      class="num editable"
      :class="{ byhand: line.price !== null }"
      :data-cell="`${n}:4`"
      :tabindex="active === 4 ? 0 : -1"
    >
      <span v-if="breakAhead" class="ahead" title="A better price is within reach: open the line"
        >◆</span
      >
      {{ priced?.price ? figure(priced.price) : '—'
      }}<small>{{ per(priced, line.unit, units) }}</small>
    </td>
    <td
      role="gridcell"
      class="num editable"
      :data-cell="`${n}:5`"
      :tabindex="active === 5 ? 0 : -1"
    >
      {{ off(line, currency) }}
    </td>
    <td role="gridcell" class="num net">{{ net(line, priced) }}</td>
    <td v-if="margin" role="gridcell" class="num soft">
      {{ priced?.margin_percent ? `${figure(priced.margin_percent)} %` : '—' }}
    </td>
  </tr>
</template>
