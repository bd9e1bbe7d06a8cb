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
  /* Neither placed nor contained: hundreds of layers to sort would hold up each drawing. */
  display: flex;
  flex-direction: column;
  justify-content: center;
  width: 100%;
  margin: 3px 0;
  padding: 3px 8px;
  text-align: left;
  print-color-adjust: exact;
  --edge: var(--teal);
  --fill: var(--sheet);
  background: var(--fill);
  border: 2px solid var(--edge);
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
  --fill: var(--teal-soft);
}
/* Dashes painted as strips: strokes of hundreds of round boxes hold up a move by 40 ms. */
.deal.likely,
.deal.stretch {
  --across: repeating-linear-gradient(90deg, var(--edge) 0 var(--on), transparent 0 var(--by));
  --down: repeating-linear-gradient(var(--edge) 0 var(--on), transparent 0 var(--by));
  border-color: transparent;
  background:
    var(--across) top / 100% 2px no-repeat border-box,
    var(--across) bottom / 100% 2px no-repeat border-box,
    var(--down) left / 2px 100% no-repeat border-box,
    var(--down) right / 2px 100% no-repeat border-box,
    var(--fill) border-box;
}
.deal.likely {
  --on: 6px;
  --by: 10px;
}
.deal.stretch {
  --on: 2px;
  --by: 5px;
}
.deal.past {
  --edge: var(--red);
}
.deal.chosen {
  --fill: var(--amber-soft);
  box-shadow: 0 0 0 2px var(--ink);
}
.stale {
  align-self: flex-end;
  margin-top: -11px;
  margin-bottom: 2px;
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
