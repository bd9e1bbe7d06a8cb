<script setup lang="ts">
/** Issuing freezes prices and words: what happens, and when to ask the buyer. */
import { ref } from 'vue'
import type { Shapes } from '@/api/client'
import { addDays, day, figure, todayIso } from '@/kit/format/format'
import StepPanel from '@/kit/step/StepPanel.vue'

const props = defineProps<{
  quote: Shapes['QuoteOut']
  payable: string
  validUntil: string
  busy: boolean
}>()
defineEmits<{ issue: [followUp: string]; close: [] }>()
const today = todayIso()
const week = addDays(today, 7)
const followUp = ref(week < props.validUntil ? week : props.validUntil)
</script>

<template>
  <StepPanel
    :title="`Issue revision ${quote.letter} of ${quote.number}`"
    @close="$emit('close')"
    @go="$emit('issue', followUp)"
  >
    <p class="what">
      {{ figure(payable) }} {{ quote.currency }} for {{ quote.customer }}, valid to
      {{ day(validUntil) }}. Prices and words are frozen and the PDF is made; later changes make a
      new revision<template v-if="quote.deal_id">; the deal's amount follows</template>.
    </p>
    <label class="field"
      ><span>Ask about it on</span>
      <input v-model="followUp" class="input" type="date" :min="today" name="follow_up" required
    /></label>
    <button class="btn act" :disabled="busy">Issue revision {{ quote.letter }}</button>
  </StepPanel>
</template>

<style scoped>
.what {
  flex: 1 1 340px;
}
</style>
