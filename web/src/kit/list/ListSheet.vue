<script setup lang="ts" generic="Row extends object">
/** A list: chosen columns, sorted by its headings, a row opens its record, pages at the foot. */
import EmptyState from '@/kit/show/EmptyState.vue'
import ListPages from './ListPages.vue'
import LoadState from '@/kit/show/LoadState.vue'
import SortHead from './SortHead.vue'
import type { Column } from './useColumns'

defineProps<{
  columns: Column[]
  rows: Row[] | undefined
  pages: number
  error: Error | null
  /** What tells one row from another, and where it goes. */
  id: (row: Row) => number
  to: (row: Row) => string
  /** What it says where nothing matches. */
  nothing: string
  /** Whether the rows answer earlier filters. */
  stale?: boolean
  /** Whether a choice does something else than to open the record. */
  acts?: boolean
}>()
const emit = defineEmits<{ again: []; open: [row: Row] }>()
const sort = defineModel<string>('sort', { required: true })
const page = defineModel<string>('page', { required: true })
defineSlots<{ nothing(): unknown } & Partial<Record<string, (props: { row: Row }) => unknown>>>()

function plain(row: Row, key: string): unknown {
  return (row as Record<string, unknown>)[key]
}
</script>

<template>
  <LoadState v-if="!rows" :error="error" :rows="10" @again="emit('again')" />
  <section v-else class="card scroll" :class="{ stale }" :aria-busy="stale">
    <EmptyState v-if="!rows.length" :title="nothing"><slot name="nothing" /></EmptyState>
    <table v-else class="list">
      <thead>
        <tr>
          <template v-for="column in columns" :key="column.key">
            <SortHead
              v-if="column.sort"
              v-model="sort"
              :field="column.sort"
              :numeric="column.num"
              >{{ column.label }}</SortHead
            >
            <th v-else :class="{ num: column.num }">{{ column.label }}</th>
          </template>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="id(row)" class="goes" @click="emit('open', row)">
          <td
            v-for="column in columns"
            :key="column.key"
            :class="{ num: column.num, soft: column.soft }"
          >
            <button v-if="column.fixed && acts" class="whole" @click.stop="emit('open', row)">
              <slot :name="column.key" :row="row">{{ plain(row, column.key) }}</slot>
            </button>
            <RouterLink v-else-if="column.fixed" class="whole" :to="to(row)" @click.stop
              ><slot :name="column.key" :row="row">{{ plain(row, column.key) }}</slot></RouterLink
            >
            <slot v-else :name="column.key" :row="row">{{ plain(row, column.key) }}</slot>
          </td>
        </tr>
      </tbody>
    </table>
    <ListPages v-model="page" :pages="pages" />
  </section>
</template>

<style scoped>
.stale > :not(nav) {
  opacity: 0.55;
}
button.whole {
  border: 0;
  background: none;
  padding: 0;
  font-weight: 600;
  text-align: left;
  cursor: pointer;
}
button.whole:hover {
  text-decoration: underline;
}
</style>
