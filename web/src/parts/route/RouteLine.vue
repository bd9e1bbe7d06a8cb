<script setup lang="ts">
/** The Route: the chain of documents as stops on a line; a stop opens its document. */
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Shapes } from '@/api/client'
import { day, figure } from '@/kit/format/format'
import { maybe, t } from '@/words'

const props = defineProps<{ stops: Shapes['RouteStop'][] }>()
const holder = ref<HTMLElement>()
const { width } = useElementSize(holder)

const Y = 20
const EDGE = 34
const wide = computed(() => Math.max(width.value, 110 * props.stops.length + 60))
const x = (n: number) =>
  props.stops.length < 2
    ? EDGE
    : EDGE + (n * (wide.value - 2 * EDGE - 60)) / (props.stops.length - 1)
const lastReached = computed(() =>
  props.stops.reduce((last, stop, n) => (stop.state === 'ahead' ? last : n), 0),
)
/** Whether anything is still ahead. */
const more = computed(
  () => lastReached.value < props.stops.length - 1 || props.stops.some((stop) => stop.open),
)
const branches = computed(() =>
  props.stops.flatMap((stop, n) =>
    stop.branches.slice(0, 2).map((branch, m) => ({ branch, n, y: Y + 22 + m * 17 })),
  ),
)
const height = computed(
  () => 56 + Math.max(0, ...props.stops.map((s) => Math.min(s.branches.length, 2) - 1)) * 17,
)

const label = (stop: Shapes['RouteStop']) => maybe(`parts.route.stops.${stop.kind}`) ?? ''
const note = (stop: { name: string; note: string }) =>
  [stop.name, maybe(`parts.route.notes.${stop.note}`)].filter(Boolean).join(', ')

function words(stop: Shapes['RouteStop']): string {
  const parts = [label(stop), note(stop), stop.on ? day(stop.on) : '']
  if (stop.amount) parts.push(`${figure(stop.amount)} ${stop.currency}`)
  const state = stop.open ? 'open' : stop.state
  parts.push(maybe(`parts.route.states.${state}`) ?? '')
  return parts.filter(Boolean).join(', ')
}
</script>

<template>
  <nav ref="holder" class="route" :aria-label="t('parts.route.label')">
    <svg :width="wide" :height="height" aria-hidden="true">
      <line v-if="more" :x1="x(lastReached)" :x2="wide - 6" :y1="Y" :y2="Y" class="ahead" />
      <line :x1="x(0)" :x2="x(lastReached)" :y1="Y" :y2="Y" class="done" />
      <g v-for="{ branch, n, y } in branches" :key="branch.to">
        <path :d="`M${x(n) - 92} ${Y} c24 0 22 ${y - Y} 46 ${y - Y} h46`" class="branch" />
        <circle :cx="x(n)" :cy="y" r="5.5" class="branch-stop" />
      </g>
      <g v-for="(stop, n) in stops" :key="stop.kind">
        <circle v-if="stop.state === 'here'" :cx="x(n)" :cy="Y" r="10" class="here" />
        <path
          v-else-if="stop.state === 'trouble'"
          :d="`M${x(n) - 4} ${Y - 10}h8l6 6v8l-6 6h-8l-6-6v-8z`"
          class="trouble"
        />
        <circle
          v-else
          :cx="x(n)"
          :cy="Y"
          :r="stop.state === 'ahead' ? 6 : 7.5"
          :class="stop.state === 'ahead' ? 'next' : stop.open ? 'open' : 'reached'"
        />
      </g>
    </svg>
    <ElTooltip
      v-for="(stop, n) in stops"
      :key="stop.kind"
      :content="words(stop)"
      placement="bottom"
      popper-class="el-tooltip-words"
    >
      <component
        :is="stop.to ? 'RouterLink' : 'span'"
        class="stop"
        :class="[stop.state, { over: stop.branches.length, first: n === 0 }]"
        :style="{ left: `${x(n)}px` }"
        :to="stop.to || undefined"
        :aria-label="stop.to ? words(stop) : undefined"
      >
        <b :aria-hidden="!stop.to">{{ label(stop) }}</b>
        <small v-if="stop.amount" :aria-hidden="!stop.to">{{ figure(stop.amount) }}</small>
        <small v-else-if="note(stop)" :aria-hidden="!stop.to">{{ note(stop) }}</small>
        <span v-if="!stop.to" class="visually-hidden">{{ words(stop) }}</span>
      </component>
    </ElTooltip>
    <RouterLink
      v-for="{ branch, n, y } in branches"
      :key="branch.to"
      class="side"
      :style="{ left: `${x(n) + 12}px`, top: `${y - 9}px` }"
      :to="branch.to"
    >
      {{ branch.name }}, {{ day(branch.on) }}, {{ figure(branch.amount) }}
    </RouterLink>
  </nav>
</template>

<style scoped>
.route {
  position: relative;
  overflow-x: auto;
  overflow-y: hidden;
  margin: 6px 0 8px;
}
svg {
  display: block;
}
.done {
  stroke: var(--teal);
  stroke-width: 5;
}
.ahead {
  stroke: var(--stop-ahead);
  stroke-width: 5;
  stroke-dasharray: 1 9;
  stroke-linecap: round;
}
.reached {
  fill: var(--teal);
}
.open {
  fill: var(--paper);
  stroke: var(--teal);
  stroke-width: 4;
}
.here {
  fill: var(--sheet);
  stroke: var(--coral);
  stroke-width: 4;
}
.trouble {
  fill: var(--red);
}
.next {
  fill: var(--paper);
  stroke: var(--stop-ahead);
  stroke-width: 3.5;
}
.branch {
  fill: none;
  stroke: var(--teal);
  opacity: 0.4;
  stroke-width: 4;
}
.branch-stop {
  fill: var(--teal);
  opacity: 0.55;
}
.stop {
  position: absolute;
  top: 32px;
  transform: translateX(-50%);
  display: flex;
  gap: 5px;
  font-size: 12px;
  color: var(--ink-2);
  text-decoration: none;
  white-space: nowrap;
  padding: 1px 4px;
  border-radius: 4px;
}
.stop.over {
  top: -2px;
  transform: none;
  margin-left: 14px;
}
.stop.first:not(.over) {
  transform: none;
  margin-left: -16px;
}
.stop b {
  font-weight: 600;
}
.stop.reached b,
.stop.here b,
.stop.trouble b {
  color: var(--ink);
}
.stop.ahead b {
  font-weight: 500;
}
a.stop:hover {
  text-decoration: underline;
}
.stop small,
.side {
  font-size: 12px;
  color: var(--ink-2);
}
.side {
  position: absolute;
  white-space: nowrap;
}
</style>
