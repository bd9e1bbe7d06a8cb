<script setup lang="ts">
/** What this customer paid for this item before: a small line, a stop an order. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '@/api/client'
import { day, figure, size } from '@/kit/format/format'
import { t } from '@/words'

const props = defineProps<{ customer: number; item: number; unit: string }>()
const { data, error } = useQuery({
  queryKey: computed(() => ['past', props.customer, props.item]),
  queryFn: () =>
    take(
      api.GET('/api/prices/past', {
        params: { query: { customer: props.customer, item: props.item } },
      }),
    ),
  staleTime: 300_000,
})
const WIDTH = 180
const HEIGHT = 34
const points = computed(() => {
  const rows = data.value ?? []
  const values = rows.map((row) => size(row.price))
  const low = Math.min(...values)
  const span = Math.max(...values) - low || 1
  return rows.map((row, n) => ({
    row,
    x: rows.length < 2 ? WIDTH / 2 : 8 + (n * (WIDTH - 16)) / (rows.length - 1),
    y: 6 + (1 - (size(row.price) - low) / span) * (HEIGHT - 12),
  }))
})
const words = computed(() =>
  (data.value ?? [])
    .map((row) =>
      t('line.past.one', {
        day: day(row.on),
        price: figure(row.price),
        quantity: figure(row.quantity),
      }),
    )
    .join(', '),
)
const last = computed(() => data.value?.[data.value.length - 1])
</script>

<template>
  <p v-if="error" class="past fault">{{ error.message }}</p>
  <p v-else-if="data && !data.length" class="soft past">{{ t('line.past.never') }}</p>
  <p v-else-if="last" class="past">
    <svg :width="WIDTH" :height="HEIGHT" role="img" :aria-label="t('line.past.label', { words })">
      <polyline :points="points.map((p) => `${p.x},${p.y}`).join(' ')" />
      <circle v-for="(p, n) in points" :key="n" :cx="p.x" :cy="p.y" r="3.5">
        <title>{{ day(p.row.on) }}: {{ figure(p.row.price) }}, {{ p.row.order }}</title>
      </circle>
    </svg>
    <span class="soft">
      {{
        t('line.past.last', {
          price: figure(last.price),
          unit,
          day: day(last.on),
          quantity: figure(last.quantity),
        })
      }}
      <RouterLink :to="`/orders/${last.order_id}`">{{ last.order }}</RouterLink></span
    >
  </p>
</template>

<style scoped>
.past {
  display: flex;
  gap: 10px;
  align-items: center;
  font-size: 12px;
}
polyline {
  fill: none;
  stroke: var(--teal);
  stroke-width: 2;
}
circle {
  fill: var(--sheet);
  stroke: var(--teal);
  stroke-width: 2;
}
</style>
