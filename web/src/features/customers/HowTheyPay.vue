<script setup lang="ts">
/** Days to pay, month by month as a small line, with the year before; and the terms that hold. */
import { computed } from 'vue'
import { figure, monthOf } from '@/kit/format/format'
import { t, tn } from '@/words'
import type { Customer } from './queries'
import { pathOf, spanOf } from './payLine'

const props = defineProps<{ customer: Customer }>()
const WIDTH = 340
const HEIGHT = 62
/** Room for what the top stands for: no line runs through it. */
const ABOVE = 14
const months = computed(() => props.customer.paid_by_month)
const days = computed(() => months.value.map((each) => (each.days ? Number(each.days) : null)))
const most = computed(() => spanOf(days.value))
const line = computed(() => pathOf(days.value, WIDTH, HEIGHT))
const half = WIDTH / 2
const known = computed(() => days.value.some((each) => each !== null))
const name = (n: number) => monthOf((months.value[n]?.month ?? '').slice(0, 7))
/** The line in words, for whoever does not see it. */
const told = computed(() =>
  months.value
    .filter((each) => each.days)
    .map((each) => `${monthOf(each.month.slice(0, 7))}: ${tn('customers.days', Number(each.days))}`)
    .join(', '),
)
</script>

<template>
  <section class="card" :aria-label="t('customers.pays.title')">
    <header>
      <h2>{{ t('customers.pays.title') }}</h2>
      <span class="soft">{{ customer.terms_words }}</span>
    </header>
    <div class="row">
      <p>
        <RouterLink class="days" :to="{ query: { kind: 'payment' }, hash: '#documents' }">{{
          customer.days_to_pay ? tn('customers.days', Number(customer.days_to_pay)) : '—'
        }}</RouterLink>
        <small v-if="customer.days_to_pay_before" class="soft">{{
          t('customers.before', { days: figure(customer.days_to_pay_before) })
        }}</small>
        <small v-else class="soft">{{ t('customers.pays.noneBefore') }}</small>
      </p>
      <figure v-if="known">
        <svg :viewBox="`0 ${-ABOVE} ${WIDTH} ${ABOVE + HEIGHT + 14}`" role="img" :aria-label="told">
          <line :x1="half" y1="0" :x2="half" :y2="HEIGHT" class="year" />
          <line x1="0" :y1="HEIGHT" :x2="WIDTH" :y2="HEIGHT" class="ground" />
          <path v-for="(d, n) in line.paths" :key="n" :d="d" />
          <circle v-for="(dot, n) in line.dots" :key="n" :cx="dot.x" :cy="dot.y" r="2.2" />
          <text x="0" :y="HEIGHT + 12">{{ name(0) }}</text>
          <text :x="half" :y="HEIGHT + 12" text-anchor="middle">
            {{ name(12) }}
          </text>
          <text :x="WIDTH" :y="HEIGHT + 12" text-anchor="end">
            {{ name(months.length - 1) }}
          </text>
          <text :x="WIDTH" :y="9 - ABOVE" text-anchor="end">{{ tn('customers.days', most) }}</text>
        </svg>
      </figure>
    </div>
  </section>
</template>

<style scoped>
.row {
  display: flex;
  align-items: flex-end;
  gap: 18px;
}
.days {
  display: block;
  font-weight: 700;
  font-size: 20px;
  white-space: nowrap;
}
figure {
  flex: 1;
  margin: 0;
}
svg {
  display: block;
  width: 100%;
  max-width: 420px;
  margin-left: auto;
  overflow: visible;
}
path {
  fill: none;
  stroke: var(--teal);
  stroke-width: 2;
}
circle {
  fill: var(--teal);
}
.ground {
  stroke: var(--ink);
}
.year {
  stroke: var(--rule);
  stroke-dasharray: 3 3;
}
text {
  font-size: 10px;
  fill: var(--ink-2);
}
</style>
