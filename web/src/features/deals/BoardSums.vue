<script setup lang="ts">
/** What the columns of the board come to, weighted; each opens its deals. */
import { rough } from '@/kit/format/format'
import { t, tn } from '@/words'
import type { TimetableSums } from './useTimetable'
import type { Column } from './weeks'

defineProps<{
  columns: Column[]
  sums: TimetableSums
  deals: (filter: Record<string, string>) => string
}>()
const within = ({ kind, from, to }: Column): Record<string, string> =>
  kind === 'past'
    ? { month: 'overdue' }
    : kind === 'later'
      ? { since: from }
      : { since: from, until: to }
</script>

<template>
  <tfoot>
    <tr>
      <th scope="row">{{ t('deals.form.weighted') }}</th>
      <td v-for="(column, n) in columns" :key="column.key">
        <RouterLink v-if="sums.columns[n]?.count" :to="deals(within(column))">
          <b>{{ rough(sums.columns[n].weighted) }}</b>
          <small>{{ tn('board.deals', sums.columns[n].count) }}</small>
        </RouterLink>
        <span v-else class="soft">–</span>
      </td>
    </tr>
  </tfoot>
</template>

<style scoped>
th {
  text-align: left;
  font-size: 12px;
}
td {
  padding: 6px 5px 2px;
  text-align: center;
  border-top: 2px solid var(--ink);
}
a {
  display: block;
}
b,
small {
  display: block;
  line-height: 1.3;
}
</style>
