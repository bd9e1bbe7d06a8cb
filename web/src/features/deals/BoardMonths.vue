<script setup lang="ts">
/** What the months come to, weighted; while a deal is on its way, what its move makes of them. */
import type { Shapes } from '@/api/client'
import { figure, monthOf } from '@/kit/format/format'
import { t } from '@/words'
import type { TimetableSums } from './useTimetable'

defineProps<{
  months: TimetableSums['months']
  /** What the months would be. */
  moves: Shapes['MonthMoves'][]
  deals: (filter: Record<string, string>) => string
}>()
const name = (month: string) => (month === 'overdue' ? t('deals.gone') : monthOf(month))
</script>

<template>
  <ul class="months" aria-live="polite" :aria-label="t('board.months')">
    <template v-if="moves.length">
      <li v-for="month in moves" :key="month.month" class="moving">
        <b>{{ name(month.month) }}</b>
        {{
          t('board.becomes', { before: figure(month.all_before), after: figure(month.all_after) })
        }}
      </li>
    </template>
    <template v-else>
      <li v-for="month in months" :key="month.month">
        <RouterLink :to="deals({ month: month.month })"
          ><b>{{ name(month.month) }}</b> {{ figure(month.weighted) }}</RouterLink
        >
      </li>
    </template>
  </ul>
</template>

<style scoped>
.months {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 22px;
  min-height: 28px;
  position: sticky;
  top: 0;
  z-index: 3;
  margin: 0 0 4px;
  padding: 2px 0;
  background: var(--paper);
  list-style: none;
  font-size: 13px;
}
.months a,
.months li {
  display: inline-block;
  min-height: 24px;
  line-height: 24px;
}
.moving {
  padding: 0 8px;
  background: var(--amber-soft);
}
</style>
