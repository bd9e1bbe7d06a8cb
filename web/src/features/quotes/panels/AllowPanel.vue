<script setup lang="ts">
/** A lead lets a lapsed quote be ordered at its prices, until a day, and says why. */
import { ref } from 'vue'
import type { Shapes } from '@/api/client'
import DayField from '@/kit/form/DayField.vue'
import { todayIso } from '@/kit/format/format'
import StepPanel from '@/kit/step/StepPanel.vue'
import { t } from '@/words'

const props = defineProps<{ quote: Shapes['QuoteOut']; busy: boolean }>()
const emit = defineEmits<{ go: [until: string, reason: string]; close: [] }>()
const until = ref<string | null>(todayIso())
const reason = ref(props.quote.late_reason)
function go(): void {
  if (until.value && reason.value.trim()) emit('go', until.value, reason.value)
}
</script>

<template>
  <StepPanel
    :title="t('desk.late.allowTitle', { number: quote.number, letter: quote.letter })"
    @close="emit('close')"
    @go="go"
  >
    <DayField v-model="until" :label="t('desk.late.until')" :from="todayIso()" name="until" />
    <ElFormItem :label="t('desk.late.allowLabel')" class="why">
      <ElInput v-model="reason" name="reason" maxlength="200" required />
    </ElFormItem>
    <ElButton type="primary" native-type="submit" :loading="busy">{{
      t('desk.late.allowAct')
    }}</ElButton>
  </StepPanel>
</template>

<style scoped>
.why {
  flex: 1 1 340px;
}
</style>
