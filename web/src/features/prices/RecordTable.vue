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
/** Fields that are read together stand in one column: whom a rule is for, what it measures. */
const TOGETHER = {
  scope: ['customer', 'customer_tier', 'item', 'group'],
  basis: ['measure', 'over'],
}
type Together = keyof typeof TOGETHER
const within = (name: string) =>
  (Object.keys(TOGETHER) as Together[]).find(
    (key) => TOGETHER[key].includes(name) && props.kind.name === 'rules',
  )
const told = computed(() => {
  const fields = props.kind.fields.filter((f) => props.found.rows.some((row) => row.values[f.name]))
  const columns = new Map<string, { key: string; label: string; fields: Field[] }>()
  for (const f of fields) {
    const both = within(f.name)
    const key = both ?? f.name
    const label = both ? t(`prices.${both}`) : fieldName(f.name)
    const column = columns.get(key) ?? { key, label, fields: [] }
    column.fields.push(f)
    columns.set(key, column)
  }
  return [...columns.values()]
})
/** Words may go over lines; figures, days and codes stay whole. */
const LONG = ['item', 'customer', 'group', 'tiers', 'taxes', 'packs']
const long = (field: Field) => LONG.includes(field.kind) || field.name === 'name'
function shown(field: Field, value: string | null | undefined): string {
  if (numeric(field)) return figure(value)
  // Each tier stays on one line.
  if (field.kind === 'tiers')
    return (value ?? '').split('; ').map((tier) => tier.replaceAll(' ', '\u00a0')).join('; ') // prettier-ignore
  if (field.kind === 'choice') return choiceName(value ?? '')
  return field.kind === 'date' ? day(value) : (value ?? '')
}
const text = (fields: Field[], row: PriceRecord) =>
  fields.length === 1
    ? shown(fields[0]!, row.said[fields[0]!.name])
    : fields
        .filter((f) => row.values[f.name])
        .map((f) => shown(f, row.said[f.name]))
        .join(', ')
</script>

<template>
  <section
    class="card scroll"
    :class="{ stale }"
    :aria-busy="stale"
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
          <th v-for="c in told" :key="c.key" :class="{ num: c.fields.every(numeric) }">
            {{ c.label }}
          </th>
          <th v-if="keeps" class="end" />
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in found.rows" :key="row.id" :class="{ now: row.id === open }">
          <td
            v-for="c in told"
            :key="c.key"
            :class="{ num: c.fields.every(numeric), long: c.fields.some(long) }"
          >
            {{ text(c.fields, row) }}
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
.list td.long {
  white-space: normal;
  min-width: 9em;
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
