<script setup lang="ts">
/** A deal on the board: sized by its amount, lined by its confidence. */
import { figure, day, rough } from '@/kit/format/format'
import { confidenceName } from '@/parts/deal/confidence'
import { t } from '@/words'
import type { DealRow } from './queries'

const props = defineProps<{ deal: DealRow; height: number }>()
function words(): string {
  const { deal } = props
  return t('board.chip', {
    customer: deal.customer,
    title: deal.title,
    amount: figure(deal.amount),
    stage: deal.stage_name,
    day: day(deal.decision_on),
    confidence: confidenceName(deal.confidence),
  })
}
</script>

<template>
  <ElTooltip :content="words()" placement="top" :show-after="400" popper-class="el-tooltip-words">
    <button
      class="deal"
      :class="[deal.confidence, { past: deal.overdue }]"
      :style="{ minHeight: `${height}px` }"
      :data-deal="deal.id"
      :aria-label="words()"
      draggable="true"
    >
      <b>{{ deal.customer }}</b>
      <span>{{ rough(deal.amount) }}</span>
    </button>
  </ElTooltip>
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
.deal:focus-visible {
  outline: 3px solid var(--coral);
  outline-offset: 1px;
}
</style>
