<script setup lang="ts">
/** A deal as its team reads it: somebody else's, so nothing is changed here. */
import { computed } from 'vue'
import { me } from '@/api/session'
import { day, figure } from '@/kit/format/format'
import { confidenceName } from '@/parts/deal/confidence'
import { t } from '@/words'
import type { Deal } from './queries'

const props = defineProps<{ deal: Deal }>()
const base = computed(() => me.value?.base_currency ?? '')
const facts = computed(() =>
  [
    { name: t('deals.form.stage'), value: props.deal.stage_name },
    {
      name: t('deals.columns.amount', { currency: base.value }),
      value: `${figure(props.deal.amount)} (${figure(props.deal.probability)} %)`,
    },
    { name: t('deals.columns.decision'), value: day(props.deal.decision_on) },
    { name: t('deals.form.confidence'), value: confidenceName(props.deal.confidence) },
    { name: t('deals.form.contact'), value: props.deal.contact?.name ?? '' },
    { name: t('deals.form.needs'), value: props.deal.needs },
    { name: t('deals.form.rivals'), value: props.deal.rivals },
    {
      name: t('deals.interest.title'),
      value: props.deal.interest
        .map((row) => `${figure(row.quantity)} ${row.unit_name} ${row.name}`)
        .join(', '),
    },
    { name: t('app.places.quotes'), value: props.deal.quotes.map((row) => row.number).join(', ') },
  ].filter(({ value }) => value),
)
</script>

<template>
  <p class="soft">{{ t('deals.team.read', { name: deal.owner }) }}</p>
  <dl class="facts">
    <template v-for="fact in facts" :key="fact.name">
      <dt>{{ fact.name }}</dt>
      <dd>{{ fact.value }}</dd>
    </template>
  </dl>
</template>

<style scoped>
.facts {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 6px 18px;
  margin: 10px 0 0;
}
dt {
  color: var(--soft);
}
dd {
  margin: 0;
  white-space: pre-line;
}
</style>
