<script setup lang="ts">
/** Framework agreements: what is left of each, and its pace against the time gone by. */
import { day, figure, units } from '@/kit/format/format'
import PaceTrack from '@/parts/agreement/PaceTrack.vue'
import { t } from '@/words'
import type { Customer } from './queries'

defineProps<{ customer: Customer }>()
type Agreement = Customer['agreements'][number]
/** So much of what was committed: in the unit, or in money. */
const many = (each: Agreement, value: string) =>
  each.in_money ? `${figure(value)} ${each.unit_name}` : units(value, each.unit_name)
/** What the price is for: a piece, or so many of them. */
const per = (many: string, name: string) => (many === '1' ? name : units(many, name))
const running = (each: Agreement) => !['used', 'over', 'coming'].includes(each.state)
</script>

<template>
  <section class="card" :aria-label="t('customers.agreements.title')">
    <header>
      <h2>{{ t('customers.agreements.title') }}</h2>
      <span class="soft">{{ t('customers.agreements.hint') }}</span>
      <RouterLink class="btn small" to="/agreements">{{
        t('customers.agreements.all')
      }}</RouterLink>
    </header>
    <article v-for="each in customer.agreements" :key="each.number">
      <p>
        <RouterLink class="number" :to="`/agreements/${each.id}`">{{ each.number }}</RouterLink>
        <RouterLink :to="`/items/${each.item_id}?customer=${customer.id}`">{{
          each.item
        }}</RouterLink>
        <span class="price"
          >{{ figure(each.price) }} {{ each.currency }}
          {{ t('customers.agreements.per', { what: per(each.per, each.price_unit) }) }}</span
        >
        <span v-if="each.of" class="soft">{{
          t('customers.agreements.of', { name: each.of })
        }}</span>
      </p>
      <PaceTrack :row="each" />
      <p class="facts">
        <span>{{
          t('customers.agreements.left', {
            left: many(each, each.left),
            of: many(each, each.quantity),
          })
        }}</span>
        <span class="soft">{{
          t('customers.agreements.days', { from: day(each.valid_from), to: day(each.valid_to) })
        }}</span>
        <span v-if="running(each) && each.by_end" class="soft">{{
          t('customers.agreements.byEnd', { quantity: many(each, each.by_end) })
        }}</span>
      </p>
    </article>
  </section>
</template>

<style scoped>
article + article {
  border-top: 1px solid var(--rule);
  margin-top: 8px;
  padding-top: 8px;
}
p {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  align-items: baseline;
}
.number {
  min-height: 24px;
  line-height: 24px;
  font-weight: 700;
}
.price {
  margin-left: auto;
  white-space: nowrap;
}
.facts {
  font-size: 12px;
}
</style>
