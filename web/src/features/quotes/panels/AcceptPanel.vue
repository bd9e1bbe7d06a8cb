<script setup lang="ts">
/** The buyer said yes: the order with what they take, and whether the deal closes as won now. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take as asked, type Shapes } from '@/api/client'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import { figure, todayIso } from '@/kit/format/format'
import StepPanel from '@/kit/step/StepPanel.vue'
import { t } from '@/words'
import type { Accepted } from '@/features/quotes/desk/useQuoteActs'

const props = defineProps<{ quote: Shapes['QuoteOut']; busy: boolean }>()
const emit = defineEmits<{ accept: [accepted: Accepted]; close: [] }>()
const reference = ref(props.quote.buyer_reference)
const wanted = ref(props.quote.requested_on)
const address = ref(props.quote.delivery_address_id ?? props.quote.usual_address_id)
const take = ref<string[]>([])
const close = ref<'yes' | 'no' | ''>(props.quote.deal_id ? '' : 'no')
const missing = ref(false)
const extras = props.quote.lines.filter((l) => l.kind === 'alternative' || l.kind === 'optional')
const addresses = props.quote.addresses.map((a) => ({ value: a.id, label: a.label }))

const total = useQuery({
  queryKey: computed(() => ['order-total', props.quote.id, take.value]),
  queryFn: ({ signal }) =>
    asked(
      api.POST('/api/revisions/{revision_id}/order-total', {
        params: { path: { revision_id: props.quote.id } },
        body: { take: take.value },
        signal,
      }),
    ),
  enabled: computed(() => take.value.length > 0),
})
/** What the order comes to; unknown while it is being asked for. */
const payable = computed(() =>
  take.value.length ? total.data.value?.payable : props.quote.priced.totals.payable,
)

function words(line: Shapes['DeskLine']): string {
  const net = figure(props.quote.priced.lines.find((p) => p.id === line.key)?.net)
  const original = props.quote.lines.find((l) => l.key === line.alternative_to)
  return original
    ? t('desk.accept.instead', { text: line.text, original: original.text, net })
    : t('desk.accept.extra', { text: line.text, net })
}
function go(): void {
  missing.value = close.value === ''
  if (missing.value || payable.value === undefined) return
  emit('accept', {
    close_deal: close.value === 'yes',
    buyer_reference: reference.value,
    requested_on: wanted.value,
    delivery_address_id: address.value,
    take: take.value,
    payable: payable.value,
  })
}
</script>

<template>
  <StepPanel
    :title="
      t('desk.accept.title', {
        number: quote.number,
        letter: quote.letter,
        payable: payable === undefined ? '…' : figure(payable),
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
      class="place"
      :choices="addresses"
      :label="t('desk.accept.deliverTo')"
      name="address"
    />
    <fieldset v-if="extras.length" class="extras">
      <legend>{{ t('desk.accept.extras') }}</legend>
      <ElCheckboxGroup v-model="take">
        <ElCheckbox v-for="line in extras" :key="line.key" :value="line.key">{{
          words(line)
        }}</ElCheckbox>
      </ElCheckboxGroup>
      <p v-if="total.error.value" class="fault" role="alert">{{ total.error.value.message }}</p>
    </fieldset>
    <fieldset v-if="quote.deal_id">
      <legend>{{ t('desk.accept.deal', { deal: quote.deal }) }}</legend>
      <ElRadioGroup v-model="close" :aria-label="t('desk.accept.deal', { deal: quote.deal })">
        <ElRadio value="yes">{{ t('desk.accept.won') }}</ElRadio>
        <ElRadio value="no">{{ t('desk.accept.staysOpen') }}</ElRadio>
      </ElRadioGroup>
      <p v-if="missing && !close" class="fault" role="alert">{{ t('desk.accept.choose') }}</p>
    </fieldset>
    <ElButton
      type="primary"
      native-type="submit"
      :loading="busy"
      :disabled="payable === undefined"
      >{{ t('desk.accept.act') }}</ElButton
    >
  </StepPanel>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}
.extras {
  flex-basis: 100%;
}
.place {
  min-width: 260px;
}
legend {
  font-size: 12px;
  color: var(--ink-2);
  padding: 0;
}
.el-radio-group,
.el-checkbox-group {
  display: flex;
  gap: 4px 14px;
  flex-wrap: wrap;
}
</style>
