<script setup lang="ts">
/** Why a standing is what it is, in sentences, with its figures. */
import type { Shapes } from '@/api/client'
import { figure, size } from '@/kit/format/format'
import { maybe, maybeN, t } from '@/words'

const props = defineProps<{
  standing: Pick<Shapes['StandingOut'], 'reasons' | 'currency'>
  after?: boolean
}>()

function words(reason: Shapes['ReasonOut']): string {
  const facts = {
    amount: reason.amount ? `${figure(reason.amount)} ${props.standing.currency}` : '',
    days: reason.days,
  }
  const whose = { '': '', group: 'Group', parent: 'Parent' }[reason.of]
  const key = `standing.reasons.${reason.code}${whose}`
  const nothing = reason.code === 'near_limit' && !(size(reason.amount ?? '0') > 0)
  if (nothing) return whose ? t('standing.reasons.nothingLeftGroup') : t('standing.reasons.nothingLeft') // prettier-ignore
  return (props.after && maybe(`${key}After`, facts)) || (maybeN(key, reason.days ?? 0, facts) ?? reason.code) // prettier-ignore
}
</script>

<template>
  <ul class="reasons">
    <li v-for="reason in standing.reasons" :key="`${reason.code} ${reason.of}`">
      {{ words(reason) }}
    </li>
    <li v-if="!standing.reasons.length">{{ t('standing.fine') }}</li>
  </ul>
</template>

<style scoped>
.reasons {
  display: flex;
  flex-direction: column;
  gap: 2px;
}
</style>
