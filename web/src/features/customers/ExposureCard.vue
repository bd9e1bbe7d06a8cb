<script setup lang="ts">
/** What weighs on the limit, in its parts, and what is left of it; each part opens what it sums. */
import { computed } from 'vue'
import { figure, isNothing, size } from '@/kit/format/format'
import { t } from '@/words'
import type { Customer } from './queries'

const props = defineProps<{ customer: Customer }>()
const standing = computed(() => props.customer.standing)
const orders = computed(() => ({
  path: '/orders',
  query: { words: props.customer.name, state: 'unbilled' },
}))
const documents = { query: { kind: 'open' }, hash: '#documents' }
const parts = computed(() => [
  { key: 'open_invoices', amount: standing.value.open_invoices, to: documents },
  { key: 'credits', amount: standing.value.credits, to: documents },
  { key: 'not_invoiced', amount: standing.value.not_invoiced, to: orders.value },
  { key: 'not_delivered', amount: standing.value.not_delivered, to: orders.value },
] as const) // prettier-ignore
const shown = computed(() => parts.value.filter((part) => !isNothing(part.amount)))
/** The whole width stands for the limit, or for the exposure where it is more. */
const whole = computed(() =>
  Math.max(1, size(standing.value.exposure), size(standing.value.limit ?? '0')),
)
const share = (amount: string) => `${(Math.max(0, size(amount)) / whole.value) * 100}%`
</script>

<template>
  <section class="card" :aria-label="t('customers.exposure.title')">
    <header>
      <h2>{{ t('customers.exposure.title') }}</h2>
      <span class="soft">{{ standing.currency }}</span>
    </header>
    <div class="track" aria-hidden="true">
      <i
        v-for="part in shown"
        :key="part.key"
        :class="part.key"
        :style="{ width: share(part.amount) }"
      />
      <span v-if="standing.limit" class="limit" :style="{ left: share(standing.limit) }" />
    </div>
    <dl>
      <template v-for="part in parts" :key="part.key">
        <dt><i :class="part.key" aria-hidden="true" />{{ t(`customers.exposure.${part.key}`) }}</dt>
        <dd>
          <RouterLink v-if="!isNothing(part.amount)" :to="part.to">{{
            figure(part.amount)
          }}</RouterLink>
          <span v-else class="soft">{{ figure(part.amount) }}</span>
        </dd>
      </template>
      <dt class="sum">{{ t('customers.exposure.all') }}</dt>
      <dd class="sum">{{ figure(standing.exposure) }}</dd>
      <template v-if="standing.limit">
        <dt>{{ t('standing.limit') }}</dt>
        <dd>{{ figure(standing.limit) }}</dd>
        <dt class="left">{{ t('customers.exposure.left') }}</dt>
        <dd class="left" :class="{ late: size(standing.available ?? '0') < 0 }">
          {{ figure(standing.available) }}
        </dd>
      </template>
    </dl>
    <p v-if="standing.group" class="soft">
      {{ t('customers.exposure.ofGroup', { exposure: figure(standing.group.exposure) }) }}
      <template v-if="standing.group.limit">{{
        t('customers.exposure.groupLeft', {
          left: figure(standing.group.available),
          limit: figure(standing.group.limit),
        })
      }}</template>
    </p>
  </section>
</template>

<style scoped>
.track {
  position: relative;
  display: flex;
  height: 16px;
  margin: 2px 0 10px;
  background: var(--paper);
}
.track i {
  min-width: 2px;
}
i.open_invoices {
  background: var(--ink);
}
i.not_invoiced {
  background: var(--teal);
}
i.not_delivered {
  background: repeating-linear-gradient(135deg, var(--teal) 0 3px, var(--teal-soft) 3px 6px);
}
i.credits {
  background: var(--plum);
}
.track i.credits {
  display: none;
}
.limit {
  position: absolute;
  top: -4px;
  bottom: -4px;
  border-left: 2px solid var(--coral);
}
dl {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 3px 16px;
}
dt i {
  display: inline-block;
  width: 11px;
  height: 11px;
  margin-right: 8px;
}
dd {
  text-align: right;
}
.sum {
  border-top: 1.5px solid var(--ink);
  font-weight: 700;
  padding-top: 3px;
}
.left {
  font-weight: 700;
}
p {
  margin-top: 8px;
  font-size: 13px;
}
</style>
