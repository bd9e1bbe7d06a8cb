<script setup lang="ts">
/** The line of what moved: every step is a button that opens its deals. */
import { computed } from 'vue'
import { day, figure } from '@/kit/format/format'
import { t } from '@/words'
import { causeName, signed } from './causes'
import { lineOf, WIDTH, type Moved } from './moved'

const props = defineProps<{ moved: Moved; chosen: string }>()
const emit = defineEmits<{ choose: [cause: string] }>()
const line = computed(() => lineOf(props.moved))
/** From one riser's top to the next one's foot. */
const flats = computed(() => {
  const { start, end, risers, step } = line.value
  const points = [start, ...risers.map(({ x, to }) => ({ x, y: to })), end]
  return points.slice(0, -1).map((point, n) => ({
    from: point,
    to: { x: (points[n + 1]?.x ?? 0) - (n < risers.length ? step * 0.32 : 0), y: point.y },
  }))
})
</script>

<template>
  <div class="line">
    <svg :viewBox="`0 0 ${WIDTH} 180`" aria-hidden="true">
      <path
        v-for="(flat, n) in flats"
        :key="n"
        class="flat"
        :class="{ down: n > 0 && !line.risers[n - 1]?.up }"
        :d="`M${flat.from.x} ${flat.from.y}H${flat.to.x}`"
      />
      <g v-for="(riser, n) in line.risers" :key="riser.cause" :class="{ down: !riser.up }">
        <path
          class="riser"
          :d="`M${riser.x - line.step * 0.32} ${riser.from}L${riser.x} ${riser.to}`"
        />
        <circle :cx="riser.x" :cy="riser.to" :r="chosen === riser.cause ? 8 : 5" />
        <text :x="riser.x" :y="Math.min(riser.from, riser.to) - 12">
          {{ signed(moved.steps[n]?.amount ?? '0') }}
        </text>
      </g>
      <g class="ends">
        <circle :cx="line.start.x" :cy="line.start.y" r="9" />
        <circle :cx="line.end.x" :cy="line.end.y" r="9" />
        <text :x="line.start.x" :y="line.start.y - 18">{{ figure(moved.start) }}</text>
        <text :x="line.end.x" :y="line.end.y - 18">{{ figure(moved.end) }}</text>
      </g>
    </svg>
    <ol :style="{ gridTemplateColumns: `repeat(${moved.steps.length + 2}, minmax(0, 1fr))` }">
      <li>{{ moved.since_at ? day(moved.since_at) : '' }}</li>
      <li v-for="step in moved.steps" :key="step.cause">
        <ElButton
          size="small"
          text
          :aria-pressed="chosen === step.cause"
          :class="{ on: chosen === step.cause }"
          :aria-label="
            t('forecast.moved.step', { cause: causeName(step.cause), amount: signed(step.amount) })
          "
          @click="emit('choose', step.cause)"
          >{{ causeName(step.cause) }}</ElButton
        >
      </li>
      <li>{{ moved.until_at ? day(moved.until_at) : t('forecast.moved.now') }}</li>
    </ol>
  </div>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
}
.flat,
.riser {
  fill: none;
  stroke: var(--teal);
  stroke-width: 4;
  stroke-linecap: round;
}
.down,
.down .riser {
  stroke: var(--red);
}
circle {
  fill: var(--teal);
}
.down circle {
  fill: var(--red);
  stroke: none;
}
text {
  font-size: 14px;
  font-weight: 600;
  text-anchor: middle;
  fill: var(--teal);
  stroke: none;
}
.down text {
  fill: var(--red);
}
.ends circle {
  fill: var(--sheet);
  stroke: var(--coral);
  stroke-width: 4;
}
.ends text {
  fill: var(--ink);
}
ol {
  display: grid;
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: 12.5px;
  text-align: center;
  color: var(--ink-2);
}
li {
  min-height: 28px;
}
.on {
  font-weight: 600;
  text-decoration: underline;
}
@media (max-width: 820px) {
  ol {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 6px;
    justify-content: space-between;
  }
}
</style>
