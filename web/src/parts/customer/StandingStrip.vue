<script setup lang="ts">
/** The customer's standing in one band: verdict, figures, reasons. */
import type { Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import { t } from '@/words'
import StandingReasons from './StandingReasons.vue'
import VerdictMark from '@/kit/show/VerdictMark.vue'

defineProps<{
  standing: Shapes['StandingOut']
  to?: string
  /** On the customer's own page each figure leads to what it sums. */
  opens?: boolean
}>()
</script>

<template>
  <section class="band" :class="standing.verdict" :aria-label="t('customers.columns.standing')">
    <VerdictMark :verdict="standing.verdict" :size="30" />
    <component :is="to ? 'RouterLink' : 'b'" class="word" :to="to">{{
      t(`words.verdicts.${standing.verdict}`)
    }}</component>
    <dl>
      <div>
        <dt>{{ t('customers.columns.overdue') }}</dt>
        <dd>
          <RouterLink v-if="opens" :to="{ hash: '#open-items' }">{{
            figure(standing.overdue)
          }}</RouterLink>
          <template v-else>{{ figure(standing.overdue) }}</template>
        </dd>
      </div>
      <div>
        <dt>{{ t('standing.balance') }}</dt>
        <dd>
          <RouterLink v-if="opens" :to="{ hash: '#open-items' }">{{
            figure(standing.balance)
          }}</RouterLink>
          <template v-else>{{ figure(standing.balance) }}</template>
        </dd>
      </div>
      <div v-if="standing.limit || !standing.group?.limit">
        <dt>
          {{
            standing.limit
              ? t('standing.leftOf', { limit: figure(standing.limit) })
              : t('standing.limit')
          }}
        </dt>
        <dd>{{ standing.limit ? figure(standing.available) : t('customers.notSet') }}</dd>
      </div>
      <div v-if="standing.group?.limit">
        <dt>{{ t('standing.leftOfGroup', { limit: figure(standing.group.limit) }) }}</dt>
        <dd>{{ figure(standing.group.available) }}</dd>
      </div>
      <slot />
    </dl>
    <StandingReasons class="why" :standing="standing" />
  </section>
</template>

<style scoped>
.band {
  display: flex;
  align-items: center;
  gap: 8px 22px;
  flex-wrap: wrap;
  padding: 9px 16px;
  background: var(--sheet);
  border-left: 5px solid var(--teal);
}
.band.caution {
  background: var(--amber-soft);
  border-color: var(--amber);
}
.band.halt {
  background: var(--red-soft);
  border-color: var(--red);
}
.word {
  font-size: 19px;
  font-weight: 700;
  text-decoration: none;
}
dl {
  display: flex;
  gap: 6px 26px;
  flex-wrap: wrap;
}
dl :deep(dt) {
  font-size: 12px;
  color: var(--ink-2);
}
dl :deep(dd) {
  font-size: 16px;
  font-weight: 700;
}
.why {
  flex: 1;
  min-width: 200px;
  color: var(--ink-2);
  font-size: 13px;
}
</style>
