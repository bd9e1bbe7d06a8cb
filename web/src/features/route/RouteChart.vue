<script setup lang="ts">
/** The whole Route drawn: columns by kind, lines from what each document comes from; arrows walk, Enter opens. */
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import { useRouter } from 'vue-router'
import { day, figure } from '@/kit/format/format'
import { maybe, t } from '@/words'
import { CELL, linesOf, sizeOf, towards, xOf, yOf, type Stop, type Whole } from './chart'
import { wordsOf } from './words'

const props = defineProps<{ whole: Whole; fit: boolean }>()
const router = useRouter()
const svg = useTemplateRef<SVGSVGElement>('svg')
const size = computed(() => sizeOf(props.whole))
const lines = computed(() => linesOf(props.whole))
const focused = ref(props.whole.here)
const under = (stop: Stop) =>
  [stop.amount ? figure(stop.amount) : '', stop.on ? day(stop.on) : ''].filter(Boolean).join(' · ')
const shape = (stop: Stop) =>
  stop.state === 'trouble' || stop.late ? 'late' : stop.open ? 'open' : 'reached'
/** A name that fits between two columns. */
const short = (name: string) => (name.length > 17 ? `${name.slice(0, 16)}…` : name)
function key(event: KeyboardEvent, stop: Stop): void {
  if (event.key === 'Enter') {
    void router.push(stop.to)
    return
  }
  const next = towards(props.whole, stop, event.key)
  if (!next) return
  event.preventDefault()
  focused.value = next.id
  void nextTick(() => svg.value?.querySelector<SVGAElement>(`[data-id="${next.id}"]`)?.focus())
}
defineExpose({ svg })
</script>

<template>
  <div class="sheet" :class="{ fit }">
    <svg
      ref="svg"
      xmlns="http://www.w3.org/2000/svg"
      :viewBox="`0 0 ${size.width} ${size.height}`"
      :width="fit ? undefined : size.width"
      :height="fit ? undefined : size.height"
      role="group"
      :aria-label="t('route.picture', { title: whole.title })"
    >
      <text
        v-for="(column, n) in whole.columns"
        :key="column"
        :x="xOf({ column: n })"
        y="16"
        class="column"
      >
        {{ maybe(`route.columns.${column}`) }}
      </text>
      <path
        v-for="line in lines"
        :key="line.id"
        :d="line.path"
        class="line"
        :class="{ ahead: line.ahead }"
      />
      <a
        v-for="stop in whole.nodes"
        :key="stop.id"
        :href="stop.to"
        :data-id="stop.id"
        :tabindex="stop.id === focused ? 0 : -1"
        :aria-label="wordsOf(stop)"
        :aria-current="stop.id === whole.here ? 'page' : undefined"
        @click.prevent="router.push(stop.to)"
        @focus="focused = stop.id"
        @keydown="key($event, stop)"
      >
        <title>{{ wordsOf(stop) }}</title>
        <rect
          :x="xOf(stop) - 14"
          :y="yOf(stop) - 14"
          :width="CELL.width - 8"
          :height="CELL.height - 8"
          rx="5"
          class="hit"
        />
        <path
          v-if="shape(stop) === 'late'"
          :d="`M${xOf(stop) - 4} ${yOf(stop) - 10}h8l6 6v8l-6 6h-8l-6-6v-8z`"
          class="late"
        />
        <circle
          v-else
          :cx="xOf(stop)"
          :cy="yOf(stop)"
          :r="stop.id === whole.here ? 10 : 7"
          :class="[shape(stop), { here: stop.id === whole.here }]"
        />
        <text :x="xOf(stop) - 8" :y="yOf(stop) + 25" class="name">{{ short(stop.name) }}</text>
        <text :x="xOf(stop) - 8" :y="yOf(stop) + 38" class="under">
          {{
            stop.folded
              ? t('route.folded', { n: stop.folded })
              : [maybe(`parts.route.notes.${stop.note}`), under(stop)].filter(Boolean).join(' · ')
          }}
        </text>
      </a>
    </svg>
  </div>
</template>

<style scoped>
.sheet {
  overflow: auto;
}
svg {
  display: block;
}
.fit svg {
  width: 100%;
  max-height: 72vh;
}
.column {
  font-size: 12px;
  font-weight: 600;
  fill: var(--ink-2);
}
.line {
  fill: none;
  stroke: var(--teal);
  stroke-width: 4;
}
.line.ahead {
  stroke: var(--stop-ahead);
  stroke-dasharray: 1 8;
  stroke-linecap: round;
}
.reached {
  fill: var(--teal);
}
.open {
  fill: var(--sheet);
  stroke: var(--teal);
  stroke-width: 3.5;
}
.late {
  fill: var(--red);
}
.here {
  fill: var(--sheet);
  stroke: var(--coral);
  stroke-width: 4;
}
.name {
  font-size: 12.5px;
  font-weight: 600;
  fill: var(--ink);
}
.under {
  font-size: 11.5px;
  fill: var(--ink-2);
}
.hit {
  fill: transparent;
}
a:focus-visible {
  outline: none;
}
a:focus-visible .hit,
a:hover .hit {
  stroke: var(--focus);
  stroke-width: 2;
}
</style>
