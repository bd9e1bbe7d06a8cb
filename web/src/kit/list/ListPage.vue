<script setup lang="ts" generic="Row extends object">
/**
 * A whole list page: its name, tools, filters, the sheet, and what the filter sums to. Its filters
 * live in the address. While an answer to new filters is on its way, the old rows are marked stale.
 */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import SumBar, { type Sum } from '@/kit/show/SumBar.vue'
import ListSheet from './ListSheet.vue'
import ListTools from './ListTools.vue'
import type { Columns } from './useColumns'

const props = defineProps<{
  title: string
  place: Shapes['ViewIn']['place']
  values: Record<string, string>
  columns: Columns
  found: { rows: Row[]; pages: number; count: number } | undefined
  error: Error | null
  /** Whether what is shown answers earlier filters. */
  stale: boolean
  id: (row: Row) => number
  to: (row: Row) => string
  nothing: string
  sums?: Sum[]
  /** What stands at the right of the bar, as "12 quotes in this filter". */
  hint?: string
  acts?: boolean
}>()
const emit = defineEmits<{ again: []; open: [row: Row] }>()
const sort = defineModel<string>('sort', { required: true })
const page = defineModel<string>('page', { required: true })
const chosen = defineModel<number[]>('chosen')
defineSlots<
  {
    head(): unknown
    starts(): unknown
    below(): unknown
    filters(): unknown
    nothing(): unknown
  } & Partial<Record<string, (given: { row: Row }) => unknown>>
>()
function plain(row: Row, key: string): unknown {
  return (row as Record<string, unknown>)[key]
}
const cells = computed(() => props.columns.all.value.map((column) => column.key))
</script>

<template>
  <div class="page" :class="{ 'with-bar': sums }">
    <header class="top">
      <h1>{{ title }}</h1>
      <slot name="head" />
      <ListTools :place="place" :values="values" :columns="columns" />
      <span class="starts"><slot name="starts" /></span>
    </header>
    <slot name="below" />
    <div class="chips filters"><slot name="filters" /></div>
    <ListSheet
      :id="id"
      v-model:sort="sort"
      v-model:page="page"
      v-model:chosen="chosen"
      :columns="columns.seen.value"
      :rows="found?.rows"
      :pages="found?.pages ?? 1"
      :error="error"
      :stale="stale"
      :to="to"
      :acts="acts"
      :nothing="nothing"
      @again="emit('again')"
      @open="(row) => emit('open', row)"
    >
      <template #nothing><slot name="nothing" /></template>
      <template v-for="key in cells" :key="key" #[key]="{ row }">
        <slot :name="key" :row="row">{{ plain(row, key) }}</slot>
      </template>
    </ListSheet>
    <SumBar v-if="sums" :sums="sums" :stale="stale"
      ><span class="hint">{{ hint }}</span></SumBar
    >
  </div>
</template>

<style scoped>
.top {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 12px;
}
.starts {
  display: flex;
  gap: 8px;
}
.filters {
  margin: 10px 0;
}
.hint {
  color: var(--on-bar-2);
}
@media (max-width: 820px) {
  .hint {
    display: none;
  }
}
</style>
