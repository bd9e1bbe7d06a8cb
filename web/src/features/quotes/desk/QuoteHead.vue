<script setup lang="ts">
/** What the quote is, whether it is saved, and its Route with what it comes to now. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import type { Fault } from '@/api/fault'
import type { Saving } from '@/kit/draft/types'
import { clock, day, figure } from '@/kit/format/format'
import SheetHead from '@/parts/route/SheetHead.vue'
import { t } from '@/words'

const props = defineProps<{
  quote: Shapes['QuoteOut']
  saving: Saving
  fault: Fault | null
  unkept: boolean
  answer: Shapes['Answer']
}>()
const draft = computed(() => props.quote.state === 'draft')
const status = computed(() => {
  if (props.unkept) return t('desk.status.unkept')
  if (props.saving === 'saved')
    return t('desk.status.saved', { time: clock(props.answer.saved_at) })
  if (props.saving === 'refused') {
    return t('desk.status.refused', { words: props.fault?.message ?? '' })
  }
  return t(`desk.status.${props.saving}`)
})
const stops = computed(() =>
  props.quote.route.map((stop) =>
    draft.value && stop.kind === 'quote' && stop.amount
      ? { ...stop, amount: props.answer.priced.totals.payable }
      : stop,
  ),
)
/** What else is to be known of it. */
const notes = computed(() => {
  const { quote } = props
  return [
    quote.direct && t('desk.direct'),
    quote.rest_closed_at && t('desk.restClosed', { reason: quote.rest_reason }),
    quote.state === 'lapsed' &&
      quote.late_asked_at &&
      t('desk.late.asked', { reason: quote.late_reason }),
    quote.allowed_until &&
      quote.state !== 'draft' &&
      t('desk.late.allowed', { day: day(quote.allowed_until), who: quote.allowed_by }),
  ].filter((words): words is string => Boolean(words))
})
const issued = computed(() => {
  const { quote } = props
  if (!quote.issued_at) return ''
  const facts = { day: day(quote.issued_at), who: quote.issued_by }
  return quote.state === 'issued' ? t('desk.issuedBy', facts) : t('desk.laterIssuedBy', facts)
})
</script>

<template>
  <SheetHead :title="quote.customer" :stops="stops" :whole="`/route/quote/${quote.id}`">
    {{ t('desk.what', { number: quote.number, letter: quote.letter }) }} ·
    {{ t(`quotes.states.${quote.state}`)
    }}<span
      v-if="draft"
      role="status"
      :class="{ fault: unkept || !['saved', 'typing', 'saving'].includes(saving) }"
      >, {{ status }}</span
    >{{ draft ? '' : issued }} · {{ quote.currency }} · {{ quote.price_list }}
    <template #side>
      <RouterLink v-if="quote.deal_id" class="soft" :to="`/deals/${quote.deal_id}`">{{
        quote.deal
      }}</RouterLink>
    </template>
  </SheetHead>
  <p v-if="quote.orders.length > 1 || quote.state === 'part_ordered'" class="chips orders">
    <span class="soft">{{ t('desk.ordered') }}</span>
    <RouterLink v-for="order in quote.orders" :key="order.id" :to="`/orders/${order.id}`">{{
      t('desk.orderOf', { number: order.number, payable: figure(order.payable) })
    }}</RouterLink>
  </p>
  <p v-for="said in notes" :key="said" class="soft">{{ said }}</p>
</template>

<style scoped>
.orders {
  margin-bottom: 8px;
}
</style>
