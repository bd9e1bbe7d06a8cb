<script setup lang="ts">
/**
 * What is usually bought, a row an item, with one column to type quantities in: Enter and the arrows
 * go on to the next row, "=" takes the last quantity, Alt and an arrow unfold the past prices.
 */
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import type { Shapes } from '@/api/client'
import { day, figure } from '@/kit/format/format'
import PastPrices from '@/parts/line/PastPrices.vue'
import PromiseWord from '@/parts/promise/PromiseWord.vue'
import { t, tn } from '@/words'
import { nextTime } from './nextTime'
import PurchaseLine from './PurchaseLine.vue'
import { useCustomerPromises } from '@/parts/promise/usePromises'
import { promiseLines } from './promiseLines'
import type { Row, Typed } from './queries'

const props = defineProps<{
  sheet: Shapes['RegularsOut']
  customer: number
  margin: boolean
  text: (row: Row) => string
  reason: (row: Row) => string
  stale: boolean
  /** Where goods leave from; null the usual depot. */
  depot: number | null
  /** What is typed already. */
  lines: Typed[]
}>()
const emit = defineEmits<{ type: [row: Row, text: string] }>()
const table = useTemplateRef<HTMLElement>('table')
const { byKey } = useCustomerPromises(
  props.customer,
  computed(() => promiseLines(props.sheet.rows, props.lines, props.depot)),
)
const promiseOf = (row: Row) => byKey.value.get(String(row.item.id))
const folded = ref<number | null>(null)

function field(at: number): HTMLInputElement | undefined {
  return table.value?.querySelectorAll<HTMLInputElement>('input.order')[at]
}
function go(to: number): void {
  const found = field(to)
  found?.focus()
  found?.select()
}
function key(event: KeyboardEvent, row: Row, at: number): void {
  if (event.ctrlKey || event.metaKey) return
  if (event.altKey && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
    folded.value = folded.value === row.item.id ? null : row.item.id
  } else if (event.key === 'Enter' || event.key === 'ArrowDown') go(at + 1)
  else if (event.key === 'ArrowUp') go(at - 1)
  else if (event.key === '=') {
    emit('type', row, '=')
    void nextTick(() => go(at + 1))
  } else return
  event.preventDefault()
}
function change(row: Row): { words: string; up: boolean } {
  const change = row.price?.change
  if (change == null) return { words: '—', up: false }
  if (Number(change) === 0) return { words: t('regulars.same'), up: false }
  const up = !change.startsWith('-')
  return { words: `${up ? '+' : ''}${figure(change)} %`, up }
}
const unit = (code: string) => props.sheet.unit_names[code] ?? code
const per = (row: Row) =>
  row.price && row.price.unit !== row.unit ? t('regulars.per', { unit: unit(row.price.unit) }) : ''
defineExpose({ start: () => go(0) })
</script>

<template>
  <div class="sheet" :class="{ stale }">
    <table ref="table" class="list regulars">
      <thead>
        <tr>
          <th>{{ t('regulars.columns.item') }}</th>
          <th>{{ t('regulars.columns.what') }}</th>
          <th>{{ t('regulars.columns.span') }}</th>
          <th>{{ t('regulars.columns.next') }}</th>
          <th>{{ t('regulars.columns.last') }}</th>
          <th class="num">{{ t('regulars.columns.quantity') }}</th>
          <th class="num">{{ t('regulars.columns.paid') }}</th>
          <th class="num">{{ t('regulars.columns.today', { currency: sheet.currency }) }}</th>
          <th class="num">{{ t('regulars.columns.change') }}</th>
          <th>{{ t('promise.column') }}</th>
          <th class="num now">{{ t('regulars.columns.now') }}</th>
          <th>{{ t('regulars.columns.unit') }}</th>
          <th v-if="margin" class="num">{{ t('regulars.columns.margin') }}</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="(row, n) in sheet.rows" :key="row.item.id">
          <tr :class="row.habit && `is-${row.habit.state}`">
            <td class="soft code">{{ row.item.code }}</td>
            <td class="what">
              {{ row.item.name }}
              <small v-if="row.buyers > 1" class="soft">{{
                tn('regulars.buyers', row.buyers)
              }}</small>
            </td>
            <td class="line">
              <PurchaseLine :row="row" :since="sheet.since" :until="sheet.until" />
            </td>
            <td class="next">
              <template v-if="row.habit">
                <span class="when">{{ nextTime(row.habit, sheet.until).when }}</span>
                <small class="soft">{{ nextTime(row.habit, sheet.until).how }}</small>
              </template>
              <span v-else class="soft">{{ t('regulars.never') }}</span>
            </td>
            <td>{{ row.habit ? day(row.habit.last_on) : '' }}</td>
            <td class="num">{{ row.habit ? figure(row.habit.last_quantity) : '' }}</td>
            <td class="num">{{ row.price?.paid ? figure(row.price.paid) : '' }}</td>
            <td class="num price">
              <template v-if="row.price"
                >{{ figure(row.price.price)
                }}<small v-if="per(row)" class="soft">{{ per(row) }}</small></template
              ><span v-else class="late">{{ t('regulars.noPrice') }}</span>
            </td>
            <td class="num" :class="{ up: change(row).up }">{{ change(row).words }}</td>
            <td class="promised">
              <PromiseWord v-if="promiseOf(row)" :promise="promiseOf(row)!" />
            </td>
            <td class="num now" :class="{ refused: reason(row) }">
              <input
                class="order num"
                inputmode="decimal"
                autocomplete="off"
                :value="text(row)"
                :aria-label="t('regulars.order', { item: row.item.name })"
                :aria-invalid="reason(row) !== ''"
                :aria-describedby="reason(row) ? `reason-${row.item.id}` : undefined"
                :placeholder="figure(row.usual)"
                @input="emit('type', row, ($event.target as HTMLInputElement).value)"
                @keydown="key($event, row, n)"
              />
              <p v-if="reason(row)" :id="`reason-${row.item.id}`" class="fault" role="alert">
                {{ reason(row) }}
              </p>
            </td>
            <td>{{ unit(row.unit) }}</td>
            <td v-if="margin" class="num">
              {{ row.price?.margin_percent ? `${figure(row.price.margin_percent)} %` : '—' }}
            </td>
          </tr>
          <tr v-if="folded === row.item.id" class="under">
            <td />
            <td :colspan="margin ? 12 : 11">
              <PastPrices
                :customer="customer"
                :item="row.item.id"
                :unit="unit(row.item.base_unit)"
              />
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.sheet {
  overflow-x: auto;
  background: var(--sheet);
  border-top: 2px solid var(--ink);
}
.stale {
  opacity: 0.6;
}
.regulars td {
  height: 41px;
  white-space: nowrap;
}
.what {
  font-weight: 600;
  max-width: 200px;
  overflow: hidden;
  text-overflow: ellipsis;
}
.line {
  width: 144px;
}
.next :is(.when, small) {
  display: block;
  line-height: 1.25;
}
small {
  font-size: 11px;
  font-weight: 400;
}
.promised {
  min-width: 116px;
}
.price {
  font-weight: 700;
}
.price small {
  display: block;
  line-height: 1;
}
tr:is(.is-late, .is-stopped, .is-due) .when {
  font-weight: 600;
}
tr:is(.is-late, .is-stopped) .when,
.up {
  color: var(--red);
}
td.now {
  padding: 0;
  width: 92px;
  border-inline: 1px solid var(--rule);
  position: relative;
}
.order {
  width: 92px;
  height: 40px;
  border: 0;
  padding: 0 8px;
  text-align: right;
  font-weight: 700;
  background: transparent;
}
.order::placeholder {
  color: var(--ink-2);
  font-weight: 400;
  opacity: 0.55;
}
.order:not(:placeholder-shown) {
  background: var(--amber-soft);
}
.order:focus {
  outline: 2px solid var(--coral);
  outline-offset: -2px;
}
.refused .order {
  box-shadow: inset 0 0 0 2px var(--red);
}
td .fault {
  position: absolute;
  right: 0;
  top: 100%;
  z-index: 3;
  padding: 2px 8px;
  background: var(--red);
  color: var(--sheet);
  font-size: 12px;
}
</style>
