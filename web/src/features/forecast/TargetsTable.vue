<script setup lang="ts">
/** A year's targets, a row of everybody: typed down a column, pasted from a sheet; a team's item groups fold. */
import { computed, ref, useTemplateRef, watch } from 'vue'
import { figure } from '@/kit/format/format'
import { t } from '@/words'
import { monthName } from './months'
import {
  cellOf,
  inMonth,
  nameOf,
  pasted,
  type TargetRow,
  type Targets,
  type Typed,
} from './targets'

const props = defineProps<{ known: Targets }>()
const typed = defineModel<Typed>({ required: true })
const table = useTemplateRef<HTMLElement>('table')
const open = ref(false)
const groups = computed(() => props.known.rows.filter((row) => row.group))
/** Nobody keeps what is not seen: groups in which something is typed are open. */
const asked = computed(() =>
  groups.value.some((row) =>
    row.targets.some(({ month }) => typed.value[cellOf(row, month)] !== undefined),
  ),
)
watch(asked, (now) => (open.value ||= now), { immediate: true })
const rows = computed(() => props.known.rows.filter((row) => open.value || !row.group))
const shortOf = (month: string) => monthName(month.slice(0, 7)).replace(/^(\p{L}{3})\p{L}*/u, '$1')
const textOf = (row: TargetRow, { month, amount }: TargetRow['targets'][number]) =>
  typed.value[cellOf(row, month)] ?? (amount ? figure(amount) : '')
const together = (row: TargetRow) =>
  !row.person && !row.group && row.targets.some((each) => each.of_people)
function type(row: TargetRow, month: string, event: Event): void {
  const { value } = event.target as HTMLInputElement
  typed.value = { ...typed.value, [cellOf(row, month)]: value }
}
function paste(row: TargetRow, month: string, event: ClipboardEvent): void {
  const text = event.clipboardData?.getData('text/plain') ?? ''
  if (!/[\t\n]/.test(text.trim())) return
  event.preventDefault()
  typed.value = { ...typed.value, ...pasted(rows.value, row, month, text) }
}
function key(event: KeyboardEvent): void {
  const step = event.key === 'ArrowUp' ? -1 : ['Enter', 'ArrowDown'].includes(event.key) ? 1 : 0
  if (!step || event.ctrlKey || event.altKey) return
  event.preventDefault()
  const cells = [...(table.value?.querySelectorAll('input') ?? [])]
  const at = cells.indexOf(event.target as HTMLInputElement)
  const next = cells[at + step * props.known.months.length]
  next?.focus()
  next?.select()
}
</script>

<template>
  <div class="scroll">
    <table ref="table" class="list">
      <thead>
        <tr>
          <th>{{ t('forecast.targets.who') }}</th>
          <th v-for="month in known.months" :key="month" class="num">{{ shortOf(month) }}</th>
        </tr>
      </thead>
      <tbody v-for="row in rows" :key="nameOf(row)" :class="{ team: !row.person && !row.group }">
        <tr>
          <td class="who" :class="{ part: row.group }">{{ row.group || nameOf(row) }}</td>
          <td v-for="cell in row.targets" :key="cell.month" class="num">
            <input
              v-if="known.may_set"
              inputmode="decimal"
              :value="textOf(row, cell)"
              :aria-label="t('forecast.targets.of', inMonth(row, cell.month))"
              @input="type(row, cell.month, $event)"
              @keydown="key"
              @paste="paste(row, cell.month, $event)"
            />
            <template v-else>{{ figure(cell.amount) }}</template>
          </td>
        </tr>
        <tr v-if="together(row)" class="soft">
          <td class="who part">{{ t('forecast.targets.together') }}</td>
          <td v-for="cell in row.targets" :key="cell.month" class="num">
            {{ cell.of_people ? figure(cell.of_people) : '' }}
          </td>
        </tr>
      </tbody>
    </table>
    <ElButton v-if="groups.length" text size="small" :aria-expanded="open" @click="open = !open">{{
      t(open ? 'forecast.targets.noGroups' : 'forecast.targets.groups')
    }}</ElButton>
  </div>
</template>

<style scoped>
input {
  width: 84px;
  text-align: right;
}
.who {
  white-space: nowrap;
}
.part {
  padding-left: 20px;
}
.team td {
  border-top: 1px solid var(--line);
}
.team tr:first-child .who {
  font-weight: 600;
}
</style>
