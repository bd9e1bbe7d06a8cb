<script setup lang="ts">
/** A line's promise as a shape and a word: a full stop, a hollow one, a warning triangle. */
import type { LinePromise } from './usePromises'
import { wordOf } from './words'

defineProps<{ promise: LinePromise }>()
const SHAPES = { in_stock: '◆', coming: '◇', short: '▼', none: '' }
</script>

<template>
  <span class="promise-word" :class="[promise.kind, { late: promise.late, old: promise.stale }]"
    ><i v-if="SHAPES[promise.kind]" aria-hidden="true">{{ SHAPES[promise.kind] }}</i
    >{{ wordOf(promise) }}</span
  >
</template>

<style>
.promise-word i {
  font-style: normal;
  margin-right: 5px;
}
.promise-word.in_stock {
  color: var(--teal);
}
.promise-word.coming {
  color: var(--ink);
}
.promise-word.late {
  color: var(--coral);
}
.promise-word.short {
  color: var(--red);
  font-weight: 600;
}
.promise-word.none {
  color: var(--ink-2);
}
.promise-word.old {
  font-style: italic;
}
</style>
