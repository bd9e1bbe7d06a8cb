<script setup lang="ts">
/**
 * The lines of a quote, to be ordered whole or in part. One column of quantities: Enter and the arrows go on,
 * "=" takes all that is left, Alt ↓ unfolds where a line comes from, when it is wanted and where it goes.
 */
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import type { Shapes } from '@/api/client'
import { day, figure, isNothing } from '@/kit/format/format'
import PromiseWord from '@/parts/promise/PromiseWord.vue'
import { t } from '@/words'
import LineWhere from './LineWhere.vue'
import { nameOf, type Answer, type Offered, type Split } from './splits'

const props = defineProps<{
  offer: Shapes['PlannedOffer']
  units: Record<string, string>
  places: Shapes['AddressChoice'][]
  depots: Shapes['DepotOut'][]
  rowsOf: (revision: number, key: string) => Split[]
  reasonOf: (revision: number, key: string, split: number) => string
  answers: Map<string, Answer>
  stale: boolean
}>()
const emit = defineEmits<{
  type: [line: Offered, split: number, given: Partial<Split>]
  divide: [key: string]
  join: [key: string, split: number]
  instead: [line: Offered, original: Offered]
}>()
const table = useTemplateRef<HTMLElement>('table')
const folded = ref('')
const nameAt = (line: Offered, split: number) =>
  `${nameOf(props.offer.revision_id, line.key)}:${split}`
const rows = computed(() =>
  props.offer.lines.flatMap((line) =>
    props.rowsOf(props.offer.revision_id, line.key).map((typed, split) => ({
      line,
      typed,
      split,
      name: nameAt(line, split),
      answer: typed.quantity.trim() ? props.answers.get(nameAt(line, split)) : undefined,
      reason: props.reasonOf(props.offer.revision_id, line.key, split),
    })),
  ),
)
type Row = (typeof rows.value)[number]
const original = (line: Offered) =>
  props.offer.lines.find((each) => each.key === line.alternative_to)
const taken = (line: Offered) =>
  props.rowsOf(props.offer.revision_id, line.key).some((row) => row.quantity.trim())
/** Whether something of it was ordered before. */
const before = computed(() => props.offer.lines.some((line) => !isNothing(line.ordered)))
/** Whether nothing of it can be ordered: all was, or an alternative stands in its place. */
const gone = (line: Offered) =>
  line.replaced ||
  isNothing(line.left) ||
  props.offer.lines.some((each) => each.alternative_to === line.key && taken(each))

function go(to: number): void {
  const found = table.value?.querySelectorAll<HTMLInputElement>('input.order')[to]
  found?.focus()
  found?.select()
}
function key(event: KeyboardEvent, row: Row, at: number): void {
  if (event.ctrlKey || event.metaKey) return
  if (event.altKey && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
    folded.value = folded.value === row.name ? '' : row.name
  } else if (event.key === 'Enter' || event.key === 'ArrowDown') go(at + 1)
  else if (event.key === 'ArrowUp') go(at - 1)
  else if (event.key === '=') {
    emit('type', row.line, row.split, { quantity: '=' })
    void nextTick(() => go(at + 1))
  } else return
  event.preventDefault()
}
function where({ typed, line }: Row): string {
  const depot = props.depots.find((each) => each.id === (typed.depot ?? line.depot_id))
  const place = props.places.find((each) => each.id === typed.place)
  const wanted = typed.day ?? line.wanted_on
  return [depot?.name, wanted && t('orders.new.by', { day: day(wanted) }), place?.label]
    .filter(Boolean)
    .join(' · ')
}
function kindOf(line: Offered): string {
  const of = original(line)
  if (of) return t('orders.new.instead', { text: of.text })
  return line.kind === 'optional' ? t('orders.new.option') : ''
}
defineExpose({ start: () => go(0) })
</script>

<template>
  <div class="scroll" :class="{ stale }">
    <table ref="table" class="list take">
      <thead>
        <tr>
          <th>{{ t('desk.grid.item') }}</th>
          <th>{{ t('desk.grid.what') }}</th>
          <th class="num">{{ t('orders.new.offered') }}</th>
          <th v-if="before" class="num">{{ t('orders.new.before') }}</th>
          <th class="num now">{{ t('orders.new.now') }}</th>
          <th>{{ t('desk.grid.unit') }}</th>
          <th>{{ t('orders.new.where') }}</th>
          <th>{{ t('promise.column') }}</th>
          <th class="num">{{ t('desk.sums.net') }}</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="(row, n) in rows" :key="row.name">
          <tr
            :class="{
              beside: row.line.kind !== 'normal',
              gone: gone(row.line),
              part: row.split > 0,
            }"
          >
            <td class="soft code">{{ row.split ? '' : row.line.item }}</td>
            <td class="what">
              <template v-if="!row.split">
                {{ row.line.text }}
                <small v-if="kindOf(row.line)" class="soft kind">{{ kindOf(row.line) }}</small>
                <ElButton
                  v-if="original(row.line) && !gone(row.line)"
                  size="small"
                  text
                  :aria-pressed="taken(row.line)"
                  @click="emit('instead', row.line, original(row.line)!)"
                  >{{ taken(row.line) ? t('orders.new.back') : t('orders.new.takeIt') }}</ElButton
                >
              </template>
              <small v-else class="soft">{{ t('orders.new.part') }}</small>
            </td>
            <td class="num">{{ row.split ? '' : figure(row.line.offered) }}</td>
            <td v-if="before" class="num soft">
              {{ row.split || isNothing(row.line.ordered) ? '' : figure(row.line.ordered) }}
            </td>
            <td class="num now" :class="{ refused: row.reason }">
              <input
                class="order num"
                inputmode="decimal"
                autocomplete="off"
                :value="row.typed.quantity"
                :aria-label="t('orders.new.quantityOf', { item: row.line.text })"
                :aria-invalid="row.reason !== ''"
                :aria-describedby="row.reason ? `reason-${row.name}` : undefined"
                :placeholder="gone(row.line) ? '' : figure(row.line.left)"
                @input="
                  emit('type', row.line, row.split, {
                    quantity: ($event.target as HTMLInputElement).value,
                  })
                "
                @keydown="key($event, row, n)"
              />
              <p v-if="row.reason" :id="`reason-${row.name}`" class="fault" role="alert">
                {{ row.reason }}
              </p>
              <small v-else-if="row.answer?.beyond" class="late">{{
                t('orders.new.beyond', { left: figure(row.line.left) })
              }}</small>
            </td>
            <td>{{ units[row.line.unit] ?? row.line.unit }}</td>
            <td>
              <ElButton
                size="small"
                text
                :aria-expanded="folded === row.name"
                @click="folded = folded === row.name ? '' : row.name"
                >{{ where(row) || t('orders.new.asTheOrder') }}</ElButton
              >
            </td>
            <td class="promised">
              <PromiseWord v-if="row.answer?.promise" :promise="row.answer.promise" />
            </td>
            <td class="num">{{ row.answer ? figure(row.answer.net) : '' }}</td>
          </tr>
          <tr v-if="folded === row.name">
            <td :colspan="before ? 9 : 8" class="fold">
              <LineWhere
                :typed="row.typed"
                :depots="depots"
                :places="places"
                :split="row.split"
                @type="(given) => emit('type', row.line, row.split, given)"
                @divide="emit('divide', row.line.key)"
                @join="emit('join', row.line.key, row.split)"
              />
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.take input.order {
  width: 96px;
}
.now {
  background: var(--sheet-2, transparent);
}
.what .kind {
  margin-left: 8px;
}
.now small {
  display: block;
}
.gone td {
  color: var(--ink-2);
}
.beside .what,
.part .what {
  padding-left: 22px;
}
</style>
