<script setup lang="ts">
/** Framework agreements: what is left of each, and its pace against the time gone by. */
import { day, figure, size, units } from '@/kit/format/format'
import { t } from '@/words'
import type { Customer } from './queries'

defineProps<{ customer: Customer }>()
type Agreement = Customer['agreements'][number]
const wide = (percent: string) => `${Math.min(100, size(percent))}%`
/** What the price is for: a piece, or so many of them. */
const per = (many: string, name: string) => (many === '1' ? name : units(many, name))
const running = (each: Agreement) => !['used', 'over', 'coming'].includes(each.state)
</script>

<template>
  <section class="card" :aria-label="t('customers.agreements.title')">
    <header>
      <h2>{{ t('customers.agreements.title') }}</h2>
      <span class="soft">{{ t('customers.agreements.hint') }}</span>
    </header>
    <article v-for="each in customer.agreements" :key="each.number">
      <p>
        <b>{{ each.number }}</b>
        <RouterLink :to="`/items/${each.item_id}?customer=${customer.id}`">{{
          each.item
        }}</RouterLink>
        <span class="price"
          >{{ figure(each.price) }} {{ each.currency }}
          {{ t('customers.agreements.per', { what: per(each.per, each.unit_name) }) }}</span
        >
        <span v-if="each.of" class="soft">{{
          t('customers.agreements.of', { name: each.of })
        }}</span>
      </p>
      <div class="track" aria-hidden="true">
        <i :class="each.state" :style="{ width: wide(each.percent) }" />
        <span class="time" :style="{ left: wide(each.time_percent) }" />
      </div>
      <p class="facts">
        <span :class="['state', each.state]">{{
          t(`customers.agreements.states.${each.state}` as never)
        }}</span>
        <span>{{
          t('customers.agreements.left', {
            left: units(each.left, each.unit_name),
            of: units(each.quantity, each.unit_name),
          })
        }}</span>
        <span class="soft">{{
          t('customers.agreements.days', { from: day(each.valid_from), to: day(each.valid_to) })
        }}</span>
        <span v-if="running(each) && each.by_end" class="soft">{{
          t('customers.agreements.byEnd', { quantity: units(each.by_end, each.unit_name) })
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
.price {
  margin-left: auto;
  white-space: nowrap;
}
.track {
  position: relative;
  height: 9px;
  margin: 6px 0;
  background: var(--paper);
}
.track i {
  display: block;
  height: 100%;
  background: var(--teal);
}
.track i.behind {
  background: var(--amber);
}
.time {
  position: absolute;
  top: -3px;
  bottom: -3px;
  border-left: 2px solid var(--ink);
}
.facts {
  font-size: 12px;
}
.state {
  font-weight: 700;
}
.state.behind {
  color: var(--amber-ink);
}
.state.ahead,
.state.even {
  color: var(--teal);
}
</style>
