<script setup lang="ts">
/** Issuing freezes prices and words: what happens, and when to ask the buyer. */
import { ref } from 'vue'
import type { Shapes } from '@/api/client'
import DayField from '@/kit/form/DayField.vue'
import { addDays, day, figure, todayIso } from '@/kit/format/format'
import { useWritesAfter, writeNext } from '@/features/quotes/buyer/writeNext'
import StepPanel from '@/kit/step/StepPanel.vue'
import { t } from '@/words'

const props = defineProps<{
  quote: Shapes['QuoteOut']
  payable: string
  validUntil: string
  busy: boolean
}>()
const emit = defineEmits<{ issue: [followUp: string]; close: [] }>()
const today = todayIso()
const planned = addDays(today, props.quote.follow_up_days)
const mails = useWritesAfter()
const followUp = ref(planned < props.validUntil ? planned : props.validUntil)
function issue(): void {
  writeNext(mails.value ? props.quote.id : 0)
  emit('issue', followUp.value)
}
</script>

<template>
  <StepPanel
    :title="t('desk.issue.title', { letter: quote.letter, number: quote.number })"
    @close="emit('close')"
    @go="issue"
  >
    <p class="what">
      {{
        t('desk.issue.what', {
          payable: figure(payable),
          currency: quote.currency,
          customer: quote.customer,
          day: day(validUntil),
        })
      }}
      {{ quote.deal_id ? t('desk.issue.dealFollows') : '' }}
    </p>
    <DayField
      :model-value="followUp"
      :label="t('desk.issue.followUp')"
      :from="today"
      name="follow_up"
      @update:model-value="(picked) => picked && (followUp = picked)"
    />
    <ElCheckbox v-model="mails">{{ t('desk.issue.mail') }}</ElCheckbox>
    <ElButton type="primary" native-type="submit" :loading="busy">
      {{ t('desk.issue.act', { letter: quote.letter }) }}
    </ElButton>
  </StepPanel>
</template>

<style scoped>
.what {
  flex: 1 1 340px;
}
</style>
