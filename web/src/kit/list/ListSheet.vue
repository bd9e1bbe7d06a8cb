<script setup lang="ts" generic="Row extends object">
/** A list: chosen columns, sorted by its headings, a row opens its record, pages at the foot. */
import EmptyState from '@/kit/show/EmptyState.vue'
import ListPages from './ListPages.vue'
import LoadState from '@/kit/show/LoadState.vue'
import SortHead from './SortHead.vue'
import type { Column } from './useColumns'
import { t } from '@/words'

const props = defineProps<{
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
/** Which rows are chosen, by their keys; without it none can be. */
const chosen = defineModel<number[]>('chosen')
defineSlots<{ nothing(): unknown } & Partial<Record<string, (props: { row: Row }) => unknown>>>()

function plain(row: Row, key: string): unknown {
  return (row as Record<string, unknown>)[key]
}
const nameOf = (row: Row) =>
  String(plain(row, props.columns.find((column) => column.fixed)?.key ?? '') ?? '')
function choose(row: Row): void {
  const key = props.id(row)
  const now = chosen.value ?? []
  chosen.value = now.includes(key) ? now.filter((each) => each !== key) : [...now, key]
}
function chooseAll(all: boolean): void {
  const here = (props.rows ?? []).map(props.id)
  const others = (chosen.value ?? []).filter((key) => !here.includes(key))
  chosen.value = all ? [...others, ...here] : others
}
</script>

<template>
  <LoadState v-if="!rows" :error="error" :rows="10" @again="emit('again')" />
  <section v-else class="card scroll" :class="{ stale }" :aria-busy="stale">
    <EmptyState v-if="!rows.length" :title="nothing"><slot name="nothing" /></EmptyState>
    <table v-else class="list">
      <thead>
        <tr>
          <th v-if="chosen" class="choose">
            <input
              type="checkbox"
              :checked="rows.every((row) => chosen?.includes(id(row)))"
              :aria-label="t('list.chooseAll')"
              @change="chooseAll(($event.target as HTMLInputElement).checked)"
            />
          </th>
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
          <td v-if="chosen" class="choose" @click.stop>
            <input
              type="checkbox"
              :checked="chosen.includes(id(row))"
              :aria-label="t('list.choose', { what: nameOf(row) })"
              @change="choose(row)"
            />
          </td>
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
.choose {
  width: 34px;
}
.choose input {
  accent-color: var(--coral);
  width: 18px;
  height: 18px;
  margin: 3px;
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
