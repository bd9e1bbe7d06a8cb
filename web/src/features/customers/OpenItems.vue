<script setup lang="ts">
/** What is open, by age as bars and item by item. */
import { computed } from 'vue'
import { day, figure, size } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import { t, tn } from '@/words'
import type { Customer } from './queries'

const props = defineProps<{ customer: Customer }>()
const AGES = [
  ['not_due', 'var(--teal)'],
  ['1_30', 'var(--amber)'],
  ['31_60', 'var(--coral)'],
  ['61_90', 'var(--coral)'],
  ['over_90', 'var(--red)'],
] as const
/** How much of its line the longest bar takes, in percent. */
const LONGEST = 62
const buckets = computed(() => props.customer.standing.buckets)
const widest = computed(() => Math.max(1, ...AGES.map(([key]) => size(buckets.value[key] ?? '0'))))
const width = (key: string) => `${(size(buckets.value[key] ?? '0') / widest.value) * LONGEST}%`
</script>

<template>
  <header>
    <h2>{{ t('customers.items.title') }}</h2>
    <span class="soft"
      >{{ tn('customers.items.count', customer.open_items.length) }},
      {{ customer.standing.currency }}</span
    >
  </header>
  <dl class="ages">
    <template v-for="[key, colour] in AGES" :key="key">
      <dt>{{ t(`customers.ages.${key}`) }}</dt>
      <dd>
        <i :style="{ width: width(key), background: colour }" /><b>{{ figure(buckets[key]) }}</b>
      </dd>
    </template>
  </dl>
  <EmptyState v-if="!customer.open_items.length" :title="t('customers.items.none')">{{
    t('customers.items.noneHint')
  }}</EmptyState>
  <table v-else class="list">
    <thead>
      <tr>
        <th>{{ t('customers.items.invoice') }}</th>
        <th>{{ t('customers.items.of') }}</th>
        <th>{{ t('customers.items.due') }}</th>
        <th class="num">{{ t('customers.items.amount') }}</th>
        <th class="num">{{ t('customers.items.open') }}</th>
        <th>{{ t('customers.items.late') }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="item in customer.open_items" :key="item.number">
        <td>
          <RouterLink v-if="item.order_id" :to="`/orders/${item.order_id}`">{{
            item.number
          }}</RouterLink>
          <template v-else>{{ item.number }}</template>
        </td>
        <td>{{ day(item.on) }}</td>
        <td>{{ day(item.due_on) }}</td>
        <td class="num">{{ figure(item.gross) }}</td>
        <td class="num">{{ figure(item.open) }}</td>
        <td>
          <span v-if="item.days_late" class="late">{{
            tn('customers.days', item.days_late)
          }}</span><span v-else>–</span>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.ages {
  display: grid;
  grid-template-columns: 70px 1fr;
  gap: 4px 12px;
  margin: 4px 0 12px;
  align-items: center;
}
.ages dt {
  font-size: 12px;
  text-align: right;
}
.ages dd {
  display: flex;
  align-items: center;
  gap: 8px;
}
.ages i {
  height: 14px;
  min-width: 2px;
}
.ages b {
  font-size: 12px;
}
</style>
