<script setup lang="ts">
/** The draft is ordered as it stands, without being offered first. */
import { ref } from 'vue'
import type { Shapes } from '@/api/client'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import { figure, todayIso } from '@/kit/format/format'
import StepPanel from '@/kit/step/StepPanel.vue'
import { t } from '@/words'
import type { Accepted } from '@/features/quotes/desk/useQuoteActs'

const props = defineProps<{ quote: Shapes['QuoteOut']; payable: string; busy: boolean }>()
const emit = defineEmits<{ go: [accepted: Accepted]; close: [] }>()
const reference = ref(props.quote.buyer_reference)
const wanted = ref(props.quote.requested_on)
const address = ref(props.quote.delivery_address_id ?? props.quote.usual_address_id)
const close = ref<'yes' | 'no' | ''>(props.quote.deal_id ? '' : 'no')
const missing = ref(false)
const addresses = props.quote.addresses.map((a) => ({ value: a.id, label: a.label }))

function go(): void {
  missing.value = close.value === ''
  if (missing.value) return
  emit('go', {
    close_deal: close.value === 'yes',
    buyer_reference: reference.value,
    requested_on: wanted.value,
    delivery_address_id: address.value,
  })
}
</script>

<template>
  <StepPanel
    :title="
      t('desk.accept.title', {
        number: quote.number,
        payable: figure(payable),
        currency: quote.currency,
      })
    "
    @close="emit('close')"
    @go="go"
  >
    <ElFormItem :label="t('desk.accept.reference')">
      <ElInput v-model="reference" name="buyer_reference" maxlength="60" />
    </ElFormItem>
    <DayField
      v-model="wanted"
      :label="t('desk.accept.wanted')"
      :from="todayIso()"
      name="wanted"
      clearable
    />
    <ChoiceField
      v-model="address"
      :style="{ width: '280px' }"
      :choices="addresses"
      :label="t('desk.accept.deliverTo')"
      name="address"
    />
    <fieldset v-if="quote.deal_id">
      <legend>{{ t('desk.accept.deal', { deal: quote.deal }) }}</legend>
      <ElRadioGroup v-model="close" :aria-label="t('desk.accept.deal', { deal: quote.deal })">
        <ElRadio value="yes">{{ t('desk.accept.won') }}</ElRadio>
        <ElRadio value="no">{{ t('desk.accept.staysOpen') }}</ElRadio>
      </ElRadioGroup>
      <p v-if="missing && !close" class="fault" role="alert">{{ t('desk.accept.choose') }}</p>
    </fieldset>
    <ElButton type="primary" native-type="submit" :loading="busy">{{
      t('desk.accept.act')
    }}</ElButton>
  </StepPanel>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}
legend {
  font-size: 12px;
  color: var(--ink-2);
  padding: 0;
}
.el-radio-group {
  display: flex;
  gap: 4px 14px;
  flex-wrap: wrap;
}
</style>
