<script setup lang="ts">
/** The purchases of an item as stops on a line of time; the next one as a ring. */
import { computed } from 'vue'
import { day, daysBetween, figure, size } from '@/kit/format/format'
import { t } from '@/words'
import type { Row } from './queries'

const props = defineProps<{ row: Row; since: string; until: string }>()
const WIDTH = 136
const HEIGHT = 26
const EDGE = 8
/** What of the line lies ahead of today. */
const AHEAD = 0.12
const [LEAST, MOST] = [2.2, 5.6]
/** Stops are smaller where they would run into each other. */
const ROOM = 0.42

const span = computed(() => Math.max(1, daysBetween(props.since, props.until)) * (1 + AHEAD))
function place(on: string): number {
  const share = daysBetween(props.since, on) / span.value
  return EDGE + Math.min(Math.max(share, 0), 1) * (WIDTH - 2 * EDGE)
}
const stops = computed(() => {
  const greatest = Math.max(...props.row.purchases.map((each) => size(each.quantity)), 0) || 1
  const each = (WIDTH - 2 * EDGE) / Math.max(props.row.purchases.length, 1)
  const most = Math.min(MOST, Math.max(LEAST + 0.8, each * ROOM))
  return props.row.purchases.map((bought) => ({
    ...bought,
    x: place(bought.on),
    r: LEAST + (most - LEAST) * Math.sqrt(size(bought.quantity) / greatest),
  }))
})
const next = computed(() => {
  const due = props.row.habit?.due_on
  return due && props.row.habit?.state !== 'stopped' ? place(due) : null
})
const words = computed(() =>
  props.row.purchases
    .map((each) => t('regulars.bought', { day: day(each.on), quantity: figure(each.quantity) }))
    .join(', '),
)
</script>

<template>
  <svg :width="WIDTH" :height="HEIGHT" role="img" :aria-label="words || t('regulars.never')">
    <line :x1="EDGE" :x2="WIDTH - EDGE" :y1="HEIGHT / 2" :y2="HEIGHT / 2" />
    <circle v-for="(s, n) in stops" :key="n" class="stop" :cx="s.x" :cy="HEIGHT / 2" :r="s.r">
      <title>{{ t('regulars.bought', { day: day(s.on), quantity: figure(s.quantity) }) }}</title>
    </circle>
    <circle v-if="next !== null" class="next" :cx="next" :cy="HEIGHT / 2" r="6" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
}
line {
  stroke: var(--ink-2);
  stroke-width: 1.5;
  opacity: 0.6;
}
.stop {
  fill: var(--teal);
}
.next {
  fill: var(--sheet);
  stroke: var(--coral);
  stroke-width: 3;
}
</style>
