<script setup lang="ts">
/** Called against won, a mark for each tenth with where the share lies nine times in ten; on the line it was right. */
import type { Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import { t, tn } from '@/words'

defineProps<{ classes: Shapes['CalledClass'][] }>()
const SIZE = 320
const x = (percent: string | number) => 56 + (Number(percent) / 100) * SIZE
const y = (percent: string | number) => 12 + (1 - Number(percent) / 100) * SIZE
const radius = (deals: number) => Math.min(14, 4 + Math.sqrt(deals) * 0.6)
const MARKS = [0, 25, 50, 75, 100]
const said = (row: Shapes['CalledClass']) =>
  t('forecast.past.classSaid', {
    called: figure(row.called),
    share: figure(row.share),
    deals: tn('forecast.past.ofDeals', row.deals),
  })
</script>

<template>
  <figure>
    <svg viewBox="0 0 400 372" role="img" :aria-label="classes.map(said).join('; ')">
      <g v-for="mark in MARKS" :key="mark" class="grid">
        <path :d="`M${x(0)} ${y(mark)}H${x(100)}`" />
        <text :x="x(0) - 8" :y="y(mark) + 4" text-anchor="end">{{ mark }} %</text>
        <text :x="x(mark)" :y="y(0) + 26" text-anchor="middle">{{ mark }} %</text>
      </g>
      <path class="right" :d="`M${x(0)} ${y(0)}L${x(100)} ${y(100)}`" />
      <g v-for="row in classes" :key="row.percent" class="mark">
        <title>{{ said(row) }}</title>
        <path :d="`M${x(row.called)} ${y(row.low)}V${y(row.high)}`" />
        <circle :cx="x(row.called)" :cy="y(row.share)" :r="radius(row.deals)" />
      </g>
    </svg>
    <figcaption class="soft">{{ t('forecast.past.plot') }}</figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
.grid path {
  stroke: var(--rule);
}
.grid text {
  font-size: 12px;
  fill: var(--ink-2);
}
.right {
  stroke: var(--ink);
  stroke-width: 2;
  stroke-dasharray: 2 5;
  stroke-linecap: round;
}
.mark path {
  stroke: var(--teal);
  stroke-width: 3;
  stroke-linecap: round;
  opacity: 0.45;
}
.mark circle {
  fill: var(--sheet);
  stroke: var(--teal);
  stroke-width: 4;
}
figcaption {
  font-size: 12.5px;
}
</style>
