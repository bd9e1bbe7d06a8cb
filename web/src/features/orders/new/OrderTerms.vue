<script setup lang="ts">
/** What the buyer said of the whole order, and whether the deal is won with it. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import { todayIso } from '@/kit/format/format'
import { t } from '@/words'
import type { Typed } from './splits'

const props = defineProps<{
  plan: Shapes['PlanOut']
  terms: { reference: string; wanted: string | null; place: number | null; parts: boolean }
  form: Typed
  deals: string[]
  /** Whether it was not said yet what becomes of the deal, and should be. */
  missing: boolean
}>()
const emit = defineEmits<{ change: [given: Partial<Typed>] }>()
const reference = computed({
  get: () => props.terms.reference,
  set: (now) => emit('change', { reference: now }),
})
const wanted = computed({
  get: () => props.terms.wanted,
  set: (now) => emit('change', { wanted: now }),
})
const place = computed({
  get: () => props.terms.place,
  set: (now) => emit('change', { place: now }),
})
const parts = computed({
  get: () => props.terms.parts,
  set: (now) => emit('change', { parts: now }),
})
const close = computed({
  get: () => props.form.close,
  set: (now) => emit('change', { close: now }),
})
const places = computed(() => props.plan.addresses.map(({ id, label }) => ({ value: id, label })))
const dealWords = computed(() => t('desk.accept.deal', { deal: props.deals.join(', ') }))
</script>

<template>
  <ElForm
    class="card terms"
    label-position="top"
    :aria-label="t('orders.new.whole')"
    @submit.prevent
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
      v-model="place"
      :style="{ width: '280px' }"
      :choices="places"
      :label="t('desk.accept.deliverTo')"
      name="address"
    />
    <ElCheckbox v-model="parts" name="parts" class="parts">{{ t('orders.new.parts') }}</ElCheckbox>
    <fieldset v-if="deals.length">
      <legend>{{ dealWords }}</legend>
      <ElRadioGroup v-model="close" :aria-label="dealWords">
        <ElRadio value="yes">{{ t('desk.accept.won') }}</ElRadio>
        <ElRadio value="no">{{ t('desk.accept.staysOpen') }}</ElRadio>
      </ElRadioGroup>
      <p v-if="missing" class="fault" role="alert">{{ t('desk.accept.choose') }}</p>
    </fieldset>
  </ElForm>
</template>

<style scoped>
.parts {
  align-self: center;
}
.terms {
  display: flex;
  gap: 4px 18px;
  flex-wrap: wrap;
  align-items: flex-start;
  margin-top: 10px;
}
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
}
</style>
