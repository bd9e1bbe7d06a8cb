<script setup lang="ts">
/** Why a standing is what it is, in sentences, with its figures. */
import type { Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'

const props = defineProps<{ standing: Shapes['StandingOut']; after?: boolean }>()

function words(reason: Shapes['ReasonOut']): string {
  const amount = reason.amount ? `${figure(reason.amount)} ${props.standing.currency}` : ''
  const sentences: Record<string, string> = {
    held: 'Held by the back office.',
    overdue_beyond_tolerance: `Overdue by ${reason.days} days: longer than is tolerated.`,
    over_limit: `${amount} over the credit limit${props.after ? ' after this quote' : ''}.`,
    overdue: `${amount} overdue, the oldest by ${reason.days} days.`,
    near_limit:
      Number(reason.amount) > 0
        ? `Only ${amount} left of the limit${props.after ? ' after this quote' : ''}.`
        : 'Nothing left of the limit.',
    no_limit: 'No credit limit is set yet.',
    stale: `The back office has not answered for ${reason.days === 1 ? 'a day' : `${reason.days} days`}: the figures are that old.`,
  }
  return sentences[reason.code] ?? reason.code
}
</script>

<template>
  <ul class="reasons">
    <li v-for="reason in standing.reasons" :key="reason.code">{{ words(reason) }}</li>
    <li v-if="!standing.reasons.length">Nothing overdue, and within the limit.</li>
  </ul>
</template>

<style scoped>
.reasons {
  display: flex;
  flex-direction: column;
  gap: 2px;
}
</style>
