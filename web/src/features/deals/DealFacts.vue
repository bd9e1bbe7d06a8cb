<script setup lang="ts">
/** What a deal lacks, what comes next, and what earlier deals teach of its chance. */
import { computed } from 'vue'
import { day, figure } from '@/kit/format/format'
import { t } from '@/words'
import type { Deal } from './queries'

const props = defineProps<{ deal: Deal }>()
const emit = defineEmits<{ take: [fields: { probability: string; probability_reason: string }] }>()
type Lack = 'quote' | 'decider' | 'reason'
const lacks = computed(() => props.deal.lacks as Lack[])
const facts = computed(() => ({
  won: props.deal.learnt?.won ?? 0,
  n: props.deal.learnt?.decided ?? 0,
}))
const whose = computed(() => {
  const told = props.deal.learnt
  if (!told) return ''
  const by = told.by.map((each) => t(`deals.facts.by.${each as 'rep'}`))
  return [t('deals.facts.ofDeals', facts.value), ...by, ...(told.thin ? [t('deals.facts.thin')] : [])].join(', ') // prettier-ignore
})
function take(): void {
  const percent = props.deal.learnt?.percent
  if (!percent) return
  emit('take', {
    probability: percent,
    probability_reason: t('deals.facts.because', facts.value),
  })
}
</script>

<template>
  <p v-for="lack in lacks" :key="lack" class="lack" role="status">
    {{ t(`deals.facts.lacks.${lack}`) }}
  </p>
  <p v-if="deal.outcome === 'open'" class="facts">
    <span v-if="deal.next_step">{{
      t('deals.facts.next', { what: deal.next_step.text, day: day(deal.next_step.due_on) })
    }}</span>
    <span v-else class="soft">{{ t('deals.facts.noNext') }}</span>
    <span v-if="deal.learnt" class="soft">
      {{ t('deals.facts.learnt', { percent: figure(deal.learnt.percent) }) }} ({{ whose }})
      <ElButton size="small" text @click="take">{{ t('deals.facts.take') }}</ElButton>
    </span>
  </p>
</template>

<style scoped>
.lack {
  margin-bottom: 8px;
  padding: 5px 10px;
  background: var(--amber-soft);
  color: var(--amber-ink);
}
.facts {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
  align-items: baseline;
  margin-bottom: 10px;
}
</style>
