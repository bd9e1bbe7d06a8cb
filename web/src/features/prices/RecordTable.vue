<script setup lang="ts">
/** The records of a kind; only fields that say something here have a column. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import { day, figure } from '@/kit/format/format'
import ListPages from '@/kit/list/ListPages.vue'
import EmptyState from '@/kit/show/EmptyState.vue'
import { t } from '@/words'
import {
  choiceName,
  fieldName,
  kindName,
  numeric,
  type Field,
  type Kind,
  type PriceRecord,
} from './queries'

const props = defineProps<{
  kind: Kind
  found: Shapes['RecordPage']
  /** The record that is being changed. */
  open: string
  keeps: boolean
  stale: boolean
}>()
const page = defineModel<string>('page', { required: true })
const emit = defineEmits<{ change: [row: PriceRecord] }>()
const told = computed(() =>
  props.kind.fields.filter((f) => props.found.rows.some((row) => row.values[f.name])),
)
function shown(field: Field, value: string | null | undefined): string {
  if (numeric(field)) return figure(value)
  if (field.kind === 'choice') return choiceName(value ?? '')
  return field.kind === 'date' ? day(value) : (value ?? '')
}
</script>

<template>
  <section
    class="card scroll"
    :class="{ stale }"
    tabindex="0"
    role="region"
    :aria-label="kindName(kind)"
  >
    <EmptyState v-if="!found.rows.length" :title="t('prices.none')">{{
      t('prices.noneHint')
    }}</EmptyState>
    <table v-else class="list">
      <thead>
        <tr>
          <th v-for="f in told" :key="f.name" :class="{ num: numeric(f) }">
            {{ fieldName(f.name) }}
          </th>
          <th v-if="keeps" class="end" />
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in found.rows" :key="row.id" :class="{ now: row.id === open }">
          <td v-for="f in told" :key="f.name" :class="{ num: numeric(f) }">
            {{ shown(f, row.said[f.name]) }}
          </td>
          <td v-if="keeps" class="end">
            <ElButton size="small" @click="emit('change', row)">{{ t('prices.change') }}</ElButton>
          </td>
        </tr>
      </tbody>
    </table>
    <ListPages v-model="page" :pages="found.pages" />
  </section>
</template>

<style scoped>
.list :is(td, th) {
  padding-inline: 4px;
}
.list td {
  white-space: nowrap;
}
.stale {
  opacity: 0.55;
}
.end {
  position: sticky;
  right: 0;
  background: var(--sheet);
}
.now,
.now .end {
  background: var(--amber-soft);
}
</style>
