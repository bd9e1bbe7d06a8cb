<script setup lang="ts">
/** Pasted rows: each matched; the doubtful ones are marked and wait for a choice. */
import { onMounted, ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { count, figure } from '@/kit/format/format'
import { complain } from '@/kit/act/notices'
import { readQuantity } from '@/parts/line/numbers'
import StepPanel from '@/kit/step/StepPanel.vue'
import { type DeskLine, newLine } from '@/parts/line/line'

interface Row {
  row: number
  words: string
  item: Shapes['ItemOut'] | null
  candidates: Shapes['ItemOut'][]
  quantity: string
  unit: string
  price: string | null
  doubts: string[]
  others: Shapes['ReadingOut'][]
  /** Which reading stands: the first, or one of the others by its place. */
  read: number
  first: Reading
}
type Reading = Omit<Shapes['ReadingOut'], 'why'>
const props = defineProps<{ text: string; at: number }>()
const emit = defineEmits<{ insert: [rows: DeskLine[], at: number]; close: [] }>()
const rows = ref<Row[]>([])
const looking = ref(true)
const DOUBTS: Record<string, string> = {
  item: 'which item?',
  quantity: 'how many?',
  unit: 'in which unit?',
  price: 'which price?',
}

onMounted(async () => {
  try {
    const found = await take(api.POST('/api/items/match', { body: { text: props.text } }))
    rows.value = found.map((row) => ({
      ...row,
      quantity: row.quantity ?? '',
      read: -1,
      first: { ...row },
    }))
  } catch (fault) {
    complain(fault)
    emit('close')
  } finally {
    looking.value = false
  }
})
function choose(row: Row, id: string): void {
  row.item = row.candidates.find((c) => c.id === Number(id)) ?? null
  row.unit = row.item?.sales_unit ?? ''
  if (row.item) row.doubts = row.doubts.filter((d) => d !== 'item')
}
const WHYS: Record<string, string> = {
  code: 'a number is the code',
  columns: 'column by column',
  headings: 'as the headings say',
  swapped: 'the price stands first',
  position: 'one figure is neither',
  decimal_comma: 'a comma is decimal',
  decimal_point: 'a point is decimal',
  thousands: 'a sign between thousands',
  spaces: 'cut at the spaces',
}
function sentence(reading: Reading, why?: string): string {
  const price = reading.price ? ` at ${figure(reading.price)}` : ''
  const many = reading.quantity ? `${figure(reading.quantity)} × ` : ''
  return `${many}${reading.words}${price}${why ? ` (${WHYS[why] ?? why})` : ''}`
}
/** Another reading stands: its figures and its item, and nothing of it is in doubt but the item. */
function readAs(row: Row, place: number): void {
  const reading = place < 0 ? row.first : row.others[place]
  if (!reading) return
  Object.assign(row, reading, { quantity: reading.quantity ?? '', read: place })
  row.doubts = [...(row.item ? [] : ['item']), ...(row.quantity ? [] : ['quantity'])]
}
function looked(row: Row, doubt: string): void {
  row.doubts = row.doubts.filter((d) => d !== doubt)
}
function insert(): void {
  const good = rows.value.filter((row) => row.item && readQuantity(row.quantity))
  emit(
    'insert',
    good.map((row) => ({
      ...newLine(row.item),
      quantity: readQuantity(row.quantity) ?? '1',
      unit: row.unit,
      price: row.price,
      price_reason: row.price ? 'from the pasted rows' : '',
    })),
    props.at,
  )
}
const ready = (): number => rows.value.filter((r) => r.item && readQuantity(r.quantity)).length
</script>

<template>
  <StepPanel title="Pasted rows" @close="$emit('close')" @go="insert">
    <p v-if="looking" class="soft">Looking the items up…</p>
    <div v-else class="rows">
      <table class="list">
        <thead>
          <tr>
            <th>Row</th>
            <th>Pasted</th>
            <th>Item</th>
            <th class="num">Quantity</th>
            <th>Unit</th>
            <th class="num">Price</th>
            <th>To look at</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.row" :class="{ doubt: row.doubts.length }">
            <td class="soft">{{ row.row }}</td>
            <td>
              <select
                v-if="row.others.length"
                class="input reading"
                :aria-label="`How row ${row.row} is read`"
                :value="row.read"
                @change="readAs(row, Number(($event.target as HTMLSelectElement).value))"
              >
                <option :value="-1">{{ sentence(row.first) }}</option>
                <option v-for="(other, place) in row.others" :key="place" :value="place">
                  {{ sentence(other, other.why) }}
                </option>
              </select>
              <template v-else>{{ row.words }}</template>
            </td>
            <td>
              <select
                v-if="row.candidates.length"
                class="input"
                :aria-label="`Item of row ${row.row}`"
                :value="row.item?.id ?? ''"
                @change="choose(row, ($event.target as HTMLSelectElement).value)"
              >
                <option value="">choose…</option>
                <option v-for="c in row.candidates" :key="c.id" :value="c.id">
                  {{ c.code }} {{ c.name }}
                </option>
              </select>
              <template v-else>{{
                row.item ? `${row.item.code} ${row.item.name}` : 'no item like this'
              }}</template>
            </td>
            <td class="num">
              <input
                v-model="row.quantity"
                class="input quantity"
                :aria-label="`Quantity of row ${row.row}`"
                @change="looked(row, 'quantity')"
              />
            </td>
            <td>
              <select
                v-if="row.item"
                v-model="row.unit"
                class="input"
                :aria-label="`Unit of row ${row.row}`"
                @change="looked(row, 'unit')"
              >
                <option v-for="u in row.item.units" :key="u.code" :value="u.code">
                  {{ u.name }}
                </option>
              </select>
            </td>
            <td class="num">{{ row.price ? figure(row.price) : 'by the rules' }}</td>
            <td class="late">{{ row.doubts.map((d) => DOUBTS[d] ?? d).join(' ') }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="!rows.length" class="soft">Nothing in this looks like a row with an item.</p>
    </div>
    <button class="btn act" :disabled="looking || !ready()">
      Add {{ count(ready(), 'line') }}
    </button>
    <span v-if="rows.length > ready()" class="soft">
      {{ count(rows.length - ready(), 'row') }} without item or quantity stay behind.
    </span>
  </StepPanel>
</template>

<style scoped>
.rows {
  flex-basis: 100%;
  max-height: 46vh;
  overflow: auto;
}
.doubt td {
  background: var(--amber-soft);
}
.quantity {
  width: 80px;
  text-align: right;
}
.input {
  height: 26px;
}
.reading {
  max-width: 260px;
}
</style>
