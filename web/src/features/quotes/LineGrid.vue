<script setup lang="ts">
/**
 * The line grid: text cells with one floating editor. Type letters of an item, quantity, Enter,
 * next line; Shift+Enter marks items, to take several at once. Arrows move, F2 or typing edits, Tab goes on, Esc leaves, Ctrl+Z takes back,
 * Alt+↓ folds the price trail out, Ctrl+Delete takes a line away. Alt+A makes a line an alternative
 * to the one above, Alt+O an option; Alt+H and Alt+N put a heading or a note above it.
 */
import { computed, nextTick, ref } from 'vue'
import type { Shapes } from '@/api/client'
import ItemHits from './ItemHits.vue'
import { changed, moved, numbersOf, withKind, withWords, without } from './lineActs'
import LineRow from './LineRow.vue'
import { readDiscount, readPrice, readQuantity } from '@/parts/line/numbers'
import PriceTrail from '@/parts/line/PriceTrail.vue'
import { type DeskLine, newLine, wordsOnly } from '@/parts/line/line'
import { type Item, useItemSearch } from './useItemSearch'

const props = defineProps<{
  lines: DeskLine[]
  priced: Shapes['PricedOut']
  problems: Shapes['ProblemOut'][]
  units: Record<string, string>
  lists: Record<string, string>
  currency: string
  editable: boolean
  margin: boolean
  customer: number
}>()
const emit = defineEmits<{
  change: [lines: DeskLine[]]
  undo: []
  paste: [text: string, at: number]
  fold: [keys: string[]]
  split: [key: string, covered: string, rest: string]
}>()

/** Editable columns, in their order: item, what, quantity, unit, price, discount. */
const ITEM = 0
const WHAT = 1
const QUANTITY = 2
const UNIT = 3
const PRICE = 4
const DISCOUNT = 5
const WIDTH = computed(() => (props.margin ? 9 : 8))

const wrap = ref<HTMLElement>()
const editor = ref<HTMLInputElement | HTMLSelectElement>()
const at = ref({ row: 0, col: QUANTITY })
const editing = ref(false)
const typed = ref('')
const box = ref({ left: 0, top: 0, width: 0, height: 0 })
const wrong = ref('')
const folded = ref(new Set<string>())

const byKey = computed(() => new Map(props.priced.lines.map((line) => [line.id, line])))
/** The break with the greatest gain for each line; they come sorted. */
const nexts = computed(
  () => new Map([...props.priced.next_breaks].reverse().map((step) => [step.line, step])),
)
const problemOf = computed(
  () => new Map(props.problems.filter((p) => p.line).map((p) => [p.line, p.words])),
)

// ---- looking an item up -------------------------------------------------------------------
const words = computed(() => (editing.value && at.value.col === ITEM ? typed.value.trim() : ''))
const search = useItemSearch(
  words,
  addItems,
  () => void nextTick(() => editor.value instanceof HTMLInputElement && editor.value.select()),
)

// ---- moving -------------------------------------------------------------------------------
function cell(row: number, col: number): HTMLElement | null {
  return wrap.value?.querySelector<HTMLElement>(`[data-cell="${row}:${col}"]`) ?? null
}
function pick(row: number, col: number): void {
  if (editing.value) commit()
  const last = props.lines.length
  const to = Math.min(Math.max(row, 0), props.editable ? last : last - 1)
  const line = props.lines[to]
  at.value = { row: to, col: to === last ? ITEM : line && wordsOnly(line) ? WHAT : col }
  void nextTick(() => cell(at.value.row, at.value.col)?.focus())
}
function next(step: number): void {
  const { row, col } = at.value
  if (row === props.lines.length) return
  const to = col + step
  const words = props.lines[row] && wordsOnly(props.lines[row] as DeskLine)
  if (words) pick(row + step, step > 0 ? QUANTITY : DISCOUNT)
  else if (to > DISCOUNT) pick(row + 1, QUANTITY)
  else if (to < ITEM) pick(row - 1, DISCOUNT)
  else pick(row, to)
}

// ---- editing ------------------------------------------------------------------------------
function edit(start?: string): void {
  if (!props.editable) return
  const { row, col } = at.value
  const line = props.lines[row]
  if (line && col === ITEM) return
  asItWas = line?.quantity ?? ''
  typed.value =
    start ??
    (line
      ? ({
          [WHAT]: line.text,
          [QUANTITY]: line.quantity,
          [UNIT]: line.unit,
          [PRICE]: line.price ?? byKey.value.get(line.key)?.price ?? '',
          [DISCOUNT]: line.discount_amount
            ? `${line.discount_amount} ${props.currency}`
            : (line.discount_percent ?? ''),
        }[col] ?? '')
      : '')
  wrong.value = ''
  search.anew()
  place()
  editing.value = true
  void nextTick(() => {
    editor.value?.focus()
    if (start !== undefined) typing()
    if (start === undefined && editor.value instanceof HTMLInputElement) editor.value.select()
  })
}
/** The quantity before the editor opened: what is typed shows at once, Esc brings this back. */
let asItWas = ''
function place(): void {
  const target = cell(at.value.row, at.value.col)
  if (!target || !wrap.value) return
  const outer = wrap.value.getBoundingClientRect()
  const inner = target.getBoundingClientRect()
  box.value = {
    left: inner.left - outer.left + wrap.value.scrollLeft,
    top: inner.top - outer.top + wrap.value.scrollTop,
    width: inner.width,
    height: inner.height,
  }
}
function put(row: number, change: Partial<DeskLine>): void {
  emit('change', changed(props.lines, row, change))
}
/** Take what was typed; false where it cannot be taken and the editor stays. */
function commit(): boolean {
  if (!editing.value) return true
  const { row, col } = at.value
  const line = props.lines[row]
  if (col === ITEM) {
    editing.value = false
    return true
  }
  if (!line) return true
  const change = read(line, col)
  if (change === null) return false
  editing.value = false
  if (Object.keys(change).length) put(row, change)
  return true
}
function read(line: DeskLine, col: number): Partial<DeskLine> | null {
  const text = typed.value
  if (col === WHAT)
    return text.trim() && text !== line.text ? { text: text.trim().slice(0, 200) } : {}
  if (col === UNIT) return text === line.unit ? {} : { unit: text }
  if (col === QUANTITY) {
    const quantity = readQuantity(text)
    if (quantity === null) wrong.value = 'A quantity is a number above 0, as 12 or 2.5'
    return quantity === null ? null : quantity === line.quantity ? {} : { quantity }
  }
  if (col === PRICE) {
    const price = readPrice(text)
    if (price === undefined) wrong.value = 'A price is a number, as 8.90; empty asks the rules'
    if (price === undefined) return null
    const asRules = line.price === null && price === byKey.value.get(line.key)?.price
    return price === line.price || asRules ? {} : { price }
  }
  const off = readDiscount(text, props.currency)
  if (off === undefined) wrong.value = `A discount is a percent, as 5, or 12.50 ${props.currency}`
  if (off === undefined) return null
  const same =
    off.discount_percent === line.discount_percent && off.discount_amount === line.discount_amount
  return same ? {} : off
}
/** Take items in; on to the quantity of the first. */
function addItems(items: Item[]): void {
  editing.value = false
  emit('change', [...props.lines, ...items.map((each) => newLine(each))])
  const row = props.lines.length
  void nextTick(() => {
    at.value = { row, col: QUANTITY }
    void nextTick(() => edit())
  })
}
function takeAway(row: number): void {
  emit('change', without(props.lines, row))
  void nextTick(() => pick(row, at.value.col))
}
function move(row: number, step: number): void {
  const next = moved(props.lines, row, step)
  if (!next) return
  emit('change', next)
  void nextTick(() => pick(row + step, at.value.col))
}
/** Put a heading or a note above a line, and write on it. */
function addWords(row: number, kind: 'heading' | 'note'): void {
  emit('change', withWords(props.lines, row, kind))
  void nextTick(() => {
    pick(row, WHAT)
    void nextTick(() => edit())
  })
}
function setKind(row: number, kind: 'alternative' | 'optional'): void {
  const next = withKind(props.lines, row, kind)
  if (next) emit('change', next)
}
function pasted(event: ClipboardEvent): void {
  const text = event.clipboardData?.getData('text/plain') ?? ''
  if (!props.editable || editing.value || !/[\t\n;]/.test(text.trim())) return
  event.preventDefault()
  emit('paste', text, at.value.row)
}
const numbers = computed(() => numbersOf(props.lines))
function fold(key: string | undefined): void {
  if (!key) return
  const open = new Set(folded.value)
  if (!open.delete(key)) open.add(key)
  folded.value = open
  emit('fold', [...open])
}

// ---- keys ---------------------------------------------------------------------------------
function inCell(event: KeyboardEvent): void {
  const { row, col } = at.value
  const ctrl = event.ctrlKey || event.metaKey
  const acts: Record<string, () => void> = {
    ArrowUp: () => (event.altKey ? fold(props.lines[row]?.key) : pick(row - 1, col)),
    ArrowDown: () => (event.altKey ? fold(props.lines[row]?.key) : pick(row + 1, col)),
    ArrowLeft: () => next(-1),
    ArrowRight: () => next(1),
    Home: () => pick(ctrl ? 0 : row, ITEM),
    End: () => pick(ctrl ? props.lines.length : row, DISCOUNT),
    Enter: () => edit(),
    F2: () => edit(),
  }
  if (ctrl && props.editable && event.shiftKey && event.key.startsWith('Arrow')) {
    acts.ArrowUp = () => move(row, -1)
    acts.ArrowDown = () => move(row, 1)
  }
  if (ctrl && event.key === 'z') {
    event.preventDefault()
    event.stopPropagation()
    emit('undo')
  } else if (ctrl && event.key === 'Delete' && props.editable) {
    event.preventDefault()
    if (row < props.lines.length) takeAway(row)
  } else if (event.key === 'Delete' && col === DISCOUNT && props.editable) {
    put(row, { discount_percent: null, discount_amount: null })
  } else if (event.key === 'Delete' && col === PRICE && props.editable) {
    put(row, { price: null, price_reason: '' })
  } else if (event.altKey && props.editable && /^[aohn]$/.test(event.key)) {
    event.preventDefault()
    if (event.key === 'a') setKind(row, 'alternative')
    else if (event.key === 'o') setKind(row, 'optional')
    else addWords(row, event.key === 'h' ? 'heading' : 'note')
  } else if (acts[event.key]) {
    event.preventDefault()
    acts[event.key]?.()
  } else if (event.key.length === 1 && event.key !== '?' && !ctrl && !event.altKey) {
    event.preventDefault()
    edit(event.key)
  }
}
function inEditor(event: KeyboardEvent): void {
  const { row, col } = at.value
  if (event.key === 'Escape') {
    event.preventDefault()
    editing.value = false
    search.letGo()
    const line = props.lines[row]
    if (line && col === QUANTITY && line.quantity !== asItWas) put(row, { quantity: asItWas })
    pick(row, col)
  } else if (col === ITEM && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
    event.preventDefault()
    search.step(event.key === 'ArrowDown' ? 1 : -1)
  } else if (event.key === 'Enter' || event.key === 'Tab') {
    event.preventDefault()
    if (col === ITEM) {
      search.choose(event.key === 'Enter' && event.shiftKey ? 'mark' : 'add')
    } else if (commit()) {
      if (event.key === 'Tab') next(event.shiftKey ? -1 : 1)
      else pick(row + 1, row + 1 >= props.lines.length ? ITEM : col)
    }
  } else if (col === QUANTITY || col === DISCOUNT || col === PRICE) {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault()
      if (commit()) pick(row + (event.key === 'ArrowDown' ? 1 : -1), col)
    }
  }
}
function typing(): void {
  search.anew()
  const line = props.lines[at.value.row]
  if (!line || at.value.col !== QUANTITY) return
  const quantity = readQuantity(typed.value)
  if (quantity && quantity !== line.quantity) put(at.value.row, { quantity })
}
/** The row and column of the cell that an event is in, if it is in one of a line. */
function cellOf(event: Event): [row: number, col: number] | null {
  const found = (event.target as HTMLElement).closest<HTMLElement>('[data-cell]')
  const [row = NaN, col = NaN] = (found?.dataset.cell ?? '').split(':').map(Number)
  return row < props.lines.length ? [row, col] : null
}
function pressed(event: MouseEvent): void {
  const found = cellOf(event)
  if (found) pick(...found)
}
function pressedTwice(event: MouseEvent): void {
  if (cellOf(event)) edit()
}
function clicked(event: MouseEvent): void {
  fold((event.target as HTMLElement).closest<HTMLElement>('[data-fold]')?.dataset.fold)
}
function left(): void {
  if (editing.value && !commit()) editing.value = false
}
function unitsOf(row: number): Shapes['ItemOut']['units'] {
  return props.lines[row]?.item?.units ?? []
}

defineExpose({
  /** Go to the empty row at the end. */
  start: () => pick(props.lines.length, ITEM),
  /** Go to a line's quantity. */
  goTo: (row: number) => pick(row, QUANTITY),
})
</script>

<template>
  <div
    ref="wrap"
    class="grid"
    :class="{ margins: margin }"
    @keydown="!editing && inCell($event)"
    @paste="pasted"
  >
    <table role="grid" aria-label="Lines" :aria-rowcount="lines.length + 2">
      <thead role="rowgroup">
        <tr role="row">
          <th scope="col" role="columnheader" class="n">#</th>
          <th scope="col" role="columnheader" class="code">Item</th>
          <th scope="col" role="columnheader">What</th>
          <th scope="col" role="columnheader" class="num quantity">Quantity</th>
          <th scope="col" role="columnheader" class="unit">Unit</th>
          <th scope="col" role="columnheader" class="num price">Price</th>
          <th scope="col" role="columnheader" class="num disc">Disc. %</th>
          <th scope="col" role="columnheader" class="num net">Net {{ currency }}</th>
          <th v-if="margin" scope="col" role="columnheader" class="num margin">Margin</th>
        </tr>
      </thead>
      <tbody role="rowgroup" @mousedown="pressed" @dblclick="pressedTwice" @click="clicked">
        <template v-for="(line, n) in lines" :key="line.key">
          <LineRow
            role="row"
            :line="line"
            :priced="byKey.get(line.key)"
            :n="n"
            :number="numbers[n] ?? ''"
            :currency="currency"
            :active="at.row === n ? at.col : -1"
            :open="folded.has(line.key)"
            :problem="problemOf.get(line.key)"
            :break-ahead="nexts.has(line.key)"
            :margin="margin"
            :units="units"
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
                @reach="(quantity) => put(n, { quantity })"
                @reason="(price_reason) => put(n, { price_reason })"
                @kind="(kind) => setKind(n, kind)"
                @words="(kind) => addWords(n, kind)"
                @by-rules="put(n, { price: null, price_reason: '' })"
                @split="(covered, rest) => emit('split', line.key, covered, rest)"
              />
            </td>
          </tr>
        </template>
        <tr v-if="editable" role="row" class="fresh">
          <th scope="row" role="rowheader" class="soft">+</th>
          <td
            role="gridcell"
            :data-cell="`${lines.length}:0`"
            :tabindex="at.row === lines.length || !lines.length ? 0 : -1"
            :colspan="2"
            class="soft two"
            aria-label="New line: type letters of an item"
            @mousedown.prevent="((at = { row: lines.length, col: 0 }), edit(''))"
          >
            Type letters of an item, or paste rows…
          </td>
          <td role="gridcell" :colspan="WIDTH - 3" class="rest" />
        </tr>
      </tbody>
    </table>
    <div
      v-if="editing"
      class="editor"
      :style="{
        left: `${box.left}px`,
        top: `${box.top}px`,
        width: `${box.width}px`,
        height: `${box.height}px`,
      }"
    >
      <select
        v-if="at.col === UNIT && lines[at.row]"
        ref="editor"
        v-model="typed"
        aria-label="Unit"
        @keydown.stop="inEditor"
        @blur="left"
      >
        <option v-for="u in unitsOf(at.row)" :key="u.code" :value="u.code">{{ u.name }}</option>
      </select>
      <input
        v-else
        ref="editor"
        v-model="typed"
        :class="{ num: at.col >= QUANTITY && at.col !== UNIT }"
        :aria-label="
          at.row >= lines.length
            ? 'Item'
            : ['Item', 'What', 'Quantity', 'Unit', 'Price', 'Discount'][at.col]
        "
        :aria-invalid="wrong !== ''"
        :role="at.col === ITEM ? 'combobox' : undefined"
        :aria-expanded="at.col === ITEM ? search.hits.value.length > 0 : undefined"
        :aria-controls="at.col === ITEM ? 'item-hits' : undefined"
        autocomplete="off"
        @input="typing"
        @keydown.stop="inEditor"
        @blur="left"
      />
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <ItemHits v-if="at.col === ITEM && words" :search="search" />
    </div>
  </div>
</template>

<style scoped>
.grid {
  position: relative;
  background: var(--sheet);
  border-top: 2px solid var(--ink);
}
/* Rows are boxes of their own, so that those out of sight cost neither layout nor paint. */
table,
thead,
tbody {
  display: block;
}
.grid :deep(tr) {
  display: grid;
  grid-template-columns: 52px 92px 1fr 96px 82px 128px 76px 116px;
  border-bottom: 1px solid var(--rule);
}
.grid.margins :deep(tr) {
  grid-template-columns: 52px 92px 1fr 96px 82px 128px 76px 116px 84px;
}
.grid :deep(tbody tr:not(.under)) {
  content-visibility: auto;
  contain-intrinsic-height: var(--row);
}
.grid :deep(thead tr) {
  border-bottom: 1px solid var(--ink);
}
thead th {
  font-size: 12px;
  font-weight: 600;
  color: var(--ink-2);
  text-align: left;
  padding: 4px 8px;
}
thead th.num {
  text-align: right;
}
.grid :deep(tbody td),
.grid :deep(tbody th) {
  height: calc(var(--row) - 1px);
  line-height: calc(var(--row) - 1px);
  padding: 0 8px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  font-weight: 400;
  text-align: left;
  min-width: 0;
}
.grid :deep(td.rest) {
  grid-column-end: -1;
}
.grid :deep(td.two) {
  grid-column-end: span 2;
}
.grid :deep(tbody td.num) {
  text-align: right;
}
.grid :deep(tbody td.net) {
  font-weight: 600;
}
.grid :deep(tbody td.folded) {
  grid-column: 1 / -1;
  padding: 0;
  height: auto;
  line-height: inherit;
  white-space: normal;
}
.grid :deep(td:focus) {
  outline: 2px solid var(--coral);
  outline-offset: -2px;
}
.grid :deep(small) {
  color: var(--ink-2);
  font-size: 11px;
}
.grid :deep(.ahead) {
  color: var(--teal);
  font-size: 9px;
  vertical-align: 1px;
}
.grid :deep(tr.alternative td),
.grid :deep(tr.optional td) {
  color: var(--plum);
}
.grid :deep(tr.alternative th),
.grid :deep(tr.optional th) {
  box-shadow: inset 4px 0 0 var(--plum);
}
.grid :deep(tr.heading td.what) {
  font-weight: 700;
}
.grid :deep(tr.note td.what) {
  font-style: italic;
  color: var(--ink-2);
}
.grid :deep(td.byhand) {
  font-weight: 700;
  text-decoration: underline dotted var(--coral);
}
.grid :deep(.fault) {
  font-size: 12px;
}
.grid :deep(button.n) {
  border: 0;
  background: none;
  padding: 0;
  width: 100%;
  text-align: left;
  color: var(--ink-2);
  cursor: pointer;
}
.grid :deep(.mark) {
  display: inline-block;
  width: 13px;
  line-height: 1;
  text-align: center;
  transition: transform 0.1s;
}
.grid :deep(.mark.open) {
  transform: rotate(90deg);
}
.editor {
  position: absolute;
  z-index: 10;
}
.editor input,
.editor select {
  width: 100%;
  height: 100%;
  border: 2px solid var(--coral);
  border-radius: 0;
  background: var(--sheet);
  padding: 0 6px;
  outline: none;
  font-weight: 600;
}
.wrong {
  position: absolute;
  top: 100%;
  right: 0;
  background: var(--red);
  color: var(--sheet);
  padding: 3px 9px;
  white-space: nowrap;
  font-size: 12px;
}
@media (max-width: 820px) {
  .grid {
    overflow-x: auto;
  }
  table {
    min-width: 860px;
  }
}
</style>
