<script setup lang="ts">
/** The terms of the whole: validity, discount on net or gross, contact, words, payment, delivery. */
import { useMediaQuery } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Shapes } from '@/api/client'
import type { Fault } from '@/api/fault'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import TextField from '@/kit/form/TextField.vue'
import { day, figure, todayIso } from '@/kit/format/format'
import { readDiscount, type Discount } from '@/parts/line/numbers'
import { t } from '@/words'
import type { DeskFields } from '@/features/quotes/desk/draftShape'
import ChargeRows from './ChargeRows.vue'
import PaymentTerms from '@/parts/terms/PaymentTerms.vue'
import NewInPlace from './NewInPlace.vue'
import { useNewInPlace } from './useNewInPlace'

const props = defineProps<{
  fields: DeskFields
  quote: Shapes['QuoteOut']
  /** What paying early is worth a year, in percent. */
  rate: string | null
  /** What the server refused, to be told at its field. */
  fault: Fault | null
}>()
const emit = defineEmits<{ change: [fields: Partial<DeskFields>] }>()
/** On a phone the terms are folded away until they are wanted. */
const small = useMediaQuery('(max-width: 820px)')
const unfolded = ref(false)
/** The second row is open where something stands in it. */
const more = ref(!!props.fields.requested_on || !!props.fields.delivery_address_id)
const shown = computed(() => {
  const { discount_amount: amount, discount_percent: percent } = props.fields
  if (amount) return `${amount} ${props.quote.currency}`
  return percent ? `${figure(percent)} %` : ''
})
const ons = (['net', 'gross'] as const).map((value) => ({
  value,
  label: t(`terms.discountOn.${value}`),
}))
const papers = (['short', 'detailed'] as const).map((value) => ({
  value,
  label: t(`terms.papers.${value}`),
}))
const { asked, contacts, addresses, choosePerson, choosePlace, met, found } = useNewInPlace(
  () => props.quote,
  (fields) => emit('change', fields),
)
const faultAt = (path: string) => (props.fault?.path === path ? props.fault.message : '')
const read = (text: string) => readDiscount(text, props.quote.currency, props.quote.digits)

function setDiscount(to: Discount): void {
  emit('change', {
    discount_percent: to.discount_percent ?? '',
    discount_amount: to.discount_amount ?? '',
  })
}
function addCharge(): void {
  const fresh = { name: t('terms.freight'), percent: null, amount: '0', tax_category: 'standard' }
  emit('change', { charges: [...props.fields.charges, fresh] })
}
</script>

<template>
  <ElButton v-if="small" class="unfold" :aria-expanded="unfolded" @click="unfolded = !unfolded">
    {{ t('terms.fold', { day: day(fields.valid_until) }) }}
  </ElButton>
  <ElForm v-if="!small || unfolded" label-position="top" class="terms" @submit.prevent>
    <DayField
      class="day"
      :model-value="fields.valid_until"
      :label="t('terms.validUntil')"
      name="valid_until"
      :from="todayIso()"
      :error="faultAt('valid_until')"
      @update:model-value="(valid_until) => valid_until && emit('change', { valid_until })"
    />
    <TextField
      class="discount"
      :text="shown"
      :label="t('terms.discount')"
      name="discount"
      figure
      placeholder="3 %"
      :read="read"
      :error="faultAt('discount_percent') || faultAt('discount_amount')"
      @change="setDiscount"
    />
    <ChoiceField
      class="on"
      :model-value="fields.discount_on"
      :choices="ons"
      :label="t('terms.takenOff')"
      name="discount_on"
      @update:model-value="(on) => emit('change', { discount_on: on ?? 'net' })"
    />
    <ChoiceField
      class="contact"
      :model-value="fields.contact_id"
      :choices="contacts"
      :label="t('terms.contact')"
      name="contact"
      :placeholder="t('terms.nobody')"
      @update:model-value="choosePerson"
    />
    <TextField
      class="reference"
      :text="fields.buyer_reference"
      :label="t('terms.reference')"
      name="reference"
      :maxlength="60"
      :error="faultAt('buyer_reference')"
      @change="(buyer_reference) => emit('change', { buyer_reference })"
    />
    <TextField
      class="message"
      :text="fields.message"
      :label="t('terms.message')"
      name="message"
      :maxlength="1000"
      :placeholder="t('terms.messageHint')"
      :error="faultAt('message')"
      @change="(message) => emit('change', { message })"
    />
    <ChoiceField
      class="paper"
      :model-value="fields.paper"
      :choices="papers"
      :label="t('terms.paper')"
      name="paper"
      @update:model-value="(paper) => emit('change', { paper: paper ?? 'short' })"
    />
    <ElButton class="more" size="small" :aria-expanded="more" @click="more = !more">{{
      t('terms.more')
    }}</ElButton>
    <div v-if="more" class="row">
      <PaymentTerms
        :fields="fields"
        :rate="rate"
        :fault="fault"
        @change="(to) => emit('change', to)"
      />
      <DayField
        class="day"
        :model-value="fields.requested_on"
        :label="t('terms.wanted')"
        name="requested_on"
        :from="todayIso()"
        clearable
        :error="faultAt('requested_on')"
        @update:model-value="(requested_on) => emit('change', { requested_on })"
      />
      <ChoiceField
        class="place"
        :model-value="fields.delivery_address_id"
        :choices="addresses"
        :label="t('terms.deliverTo')"
        name="deliver_to"
        clearable
        :placeholder="t('terms.usualPlace')"
        :error="faultAt('delivery_address_id')"
        @update:model-value="choosePlace"
      />
      <ElButton class="more" size="small" @click="addCharge">{{ t('terms.addCharge') }}</ElButton>
    </div>
    <ChargeRows
      v-if="fields.charges.length"
      :charges="fields.charges"
      :currency="quote.currency"
      :digits="quote.digits"
      :categories="quote.tax_categories"
      :fault="fault"
      @change="(charges) => emit('change', { charges })"
    />
  </ElForm>
  <NewInPlace
    v-if="asked"
    :key="asked"
    :what="asked"
    :quote="quote"
    @met="met"
    @found="found"
    @close="asked = null"
  />
</template>

<style scoped>
.unfold {
  margin: 8px 0;
}
.terms {
  display: flex;
  gap: 6px 10px;
  flex-wrap: wrap;
  align-items: flex-start;
  margin: 8px 0;
}
.day {
  width: 128px;
}
.discount {
  width: 92px;
}
.on {
  width: 112px;
}
.contact {
  flex: 1 1 150px;
  max-width: 230px;
}
.reference {
  width: 120px;
}
.message {
  flex: 2 1 160px;
}
.paper {
  width: 104px;
}
.more {
  align-self: flex-end;
  margin-bottom: 2px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: flex-start;
  flex-basis: 100%;
}
.place {
  width: 260px;
}
@media (max-width: 820px) {
  .terms > :deep(.el-form-item) {
    flex: 1 1 40%;
    width: auto;
  }
}
</style>
