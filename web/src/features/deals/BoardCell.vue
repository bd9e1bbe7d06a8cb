<script setup lang="ts">
/** The deals of one place of the board; of many, the first, and the others on a word. */
import { computed, ref } from 'vue'
import { size } from '@/kit/format/format'
import { tn } from '@/words'
import DealChip from './DealChip.vue'
import type { DealRow } from './queries'

const props = defineProps<{ deals: DealRow[]; largest: number; chosen: Set<number> }>()
const MOST = 8
const LEAST_PX = 34
const MOST_PX = 22
const open = ref(false)
const shown = computed(() => (open.value ? props.deals : props.deals.slice(0, MOST)))
const more = computed(() => props.deals.length - shown.value.length)
const height = (deal: DealRow) =>
  LEAST_PX + Math.round(MOST_PX * Math.sqrt(size(deal.amount) / props.largest))
</script>

<template>
  <DealChip
    v-for="deal in shown"
    :key="deal.id"
    :deal="deal"
    :height="height(deal)"
    :chosen="chosen.has(deal.id)"
  />
  <button v-if="more > 0" class="more" @click.stop="open = true">
    {{ tn('board.more', more) }}
  </button>
</template>

<style scoped>
.more {
  width: 100%;
  min-height: 24px;
  border: 0;
  background: none;
  font-size: 12px;
  text-decoration: underline;
  color: var(--ink-2);
}
</style>
