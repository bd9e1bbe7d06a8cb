<script setup lang="ts">
/**
 * How an agreement goes: what was planned, called off and delivered, as steps over its time. The line is today,
 * the dashes are the plan; without one, the straight way from nothing to all.
 */
import { computed } from 'vue'
import { size } from '@/kit/format/format'
import { t } from '@/words'
import type { Agreement } from './queries'

const props = defineProps<{ agreement: Agreement }>()
type Points = Agreement['course']['called']
const WIDTH = 1000
const HEIGHT = 240
/** A little more than all, so that the top line is seen. */
const TOP = 108
const x = (percent: string | number) => (size(String(percent)) / 100) * WIDTH
const y = (percent: string | number) =>
  HEIGHT - (Math.min(size(String(percent)), TOP) / TOP) * HEIGHT

/** Steps: what comes on a day is there from that day on, up to `until`. */
function steps(points: Points, until: string): string {
  const parts = points.map((point, n) =>
    n ? `H${x(point.time)} V${y(point.percent)}` : `M${x(point.time)} ${y(point.percent)}`,
  )
  return `${parts.join(' ')} H${Math.max(x(until), x(points.at(-1)?.time ?? 0))}`
}
const course = computed(() => props.agreement.course)
const now = computed(() => props.agreement.time_percent)
const planned = computed(() =>
  props.agreement.plan.length
    ? steps(course.value.planned, '100')
    : `M0 ${y(0)} L${WIDTH} ${y(100)}`,
)
const called = computed(() => steps(course.value.called, now.value))
const area = computed(() => `${called.value} V${y(0)} H0 Z`)
const left = computed(() => steps(course.value.left, now.value))
const sentence = computed(() =>
  t('ahead.agreement.chart', {
    percent: props.agreement.percent,
    delivered: course.value.left.at(-1)?.percent ?? '0',
    time: now.value,
    due: props.agreement.due_percent,
  }),
)
</script>

<template>
  <figure>
    <svg
      :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
      preserveAspectRatio="none"
      role="img"
      :aria-label="sentence"
    >
      <line class="all" x1="0" :x2="WIDTH" :y1="y(100)" :y2="y(100)" />
      <path class="area" :class="agreement.state" :d="area" />
      <path class="planned" :d="planned" />
      <path class="called" :class="agreement.state" :d="called" />
      <path class="left" :d="left" />
      <line class="today" :x1="x(now)" :x2="x(now)" y1="0" :y2="HEIGHT" />
    </svg>
    <figcaption class="legend">
      <span><i class="planned" />{{ t('ahead.agreement.legend.planned') }}</span>
      <span
        ><i class="called" :class="agreement.state" />{{ t('ahead.agreement.legend.called') }}</span
      >
      <span><i class="left" />{{ t('ahead.agreement.legend.left') }}</span>
      <span><i class="today" />{{ t('ahead.agreement.legend.today') }}</span>
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
svg {
  display: block;
  width: 100%;
  height: 170px;
  border-bottom: 1px solid var(--ink-2);
  border-left: 1px solid var(--ink-2);
}
svg * {
  vector-effect: non-scaling-stroke;
  fill: none;
}
.all {
  stroke: var(--rule);
  stroke-width: 2;
}
svg .area {
  fill: var(--teal);
  opacity: 0.14;
}
svg .area.behind {
  fill: var(--amber);
  opacity: 0.22;
}
.planned {
  stroke: var(--ink-2);
  stroke-width: 2;
  stroke-dasharray: 6 5;
}
.called {
  stroke: var(--teal);
  stroke-width: 4;
}
.called.behind {
  stroke: var(--amber);
}
.left {
  stroke: var(--ink);
  stroke-width: 2;
}
.today {
  stroke: var(--ink);
  stroke-width: 1;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin-top: 6px;
  font-size: 12px;
}
.legend span {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
.legend i {
  width: 22px;
  border-top: 3px solid;
}
.legend i.planned {
  border-top: 2px dashed var(--ink-2);
}
.legend i.called {
  border-color: var(--teal);
}
.legend i.called.behind {
  border-color: var(--amber);
}
.legend i.left {
  border-top-width: 2px;
  border-color: var(--ink);
}
.legend i.today {
  width: 0;
  height: 14px;
  border-top: 0;
  border-left: 1px solid var(--ink);
}
</style>
