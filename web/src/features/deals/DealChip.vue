<script setup lang="ts">
/** A deal on the board: sized by its amount, lined by its confidence; marked where nobody looks after it. */
import { rough } from '@/kit/format/format'
import { wordsOf } from './chipWords'
import type { DealRow } from './queries'

defineProps<{ deal: DealRow; height: number; chosen: boolean }>()
</script>

<template>
  <button
    class="deal"
    :class="[deal.confidence, { past: deal.overdue, chosen }]"
    :style="{ minHeight: `${height}px` }"
    :data-deal="deal.id"
    :aria-label="wordsOf(deal, chosen)"
    draggable="true"
  >
    <b>{{ deal.customer }}</b>
    <span>{{ rough(deal.amount) }}</span>
    <i v-if="deal.stale.length" class="stale" aria-hidden="true" />
  </button>
</template>

<style scoped>
.deal {
  position: relative;
  display: flex;
  flex-direction: column;
  justify-content: center;
  width: 100%;
  margin: 3px 0;
  padding: 3px 8px;
  text-align: left;
  background: var(--sheet);
  border: 2px solid var(--teal);
  border-radius: 5px;
  cursor: grab;
}
.deal b {
  font-size: 12px;
  line-height: 1.2;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.deal span {
  font-size: 12px;
  color: var(--ink-2);
}
.deal.sure {
  background: var(--teal-soft);
}
.deal.likely {
  border-style: dashed;
}
.deal.stretch {
  border-style: dotted;
}
.deal.past {
  border-color: var(--red);
}
.deal.chosen {
  background: var(--amber-soft);
  box-shadow: 0 0 0 2px var(--ink);
}
.stale {
  position: absolute;
  right: 6px;
  bottom: 6px;
  width: 9px;
  height: 9px;
  border: 2px solid var(--red);
  border-radius: 50%;
}
.deal:focus-visible {
  outline: 3px solid var(--coral);
  outline-offset: 1px;
}
</style>
