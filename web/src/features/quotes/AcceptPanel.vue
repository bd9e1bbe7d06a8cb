<script setup lang="ts">
/** The buyer said yes: the order, and whether the deal closes as won at this moment. */
import { ref } from 'vue'
import type { Shapes } from '@/api/client'
import { figure, todayIso } from '@/kit/format/format'
import StepPanel from '@/kit/step/StepPanel.vue'

const props = defineProps<{ quote: Shapes['QuoteOut']; busy: boolean }>()
const emit = defineEmits<{
  accept: [
    body: {
      close_deal: boolean
      buyer_reference: string
      requested_on: string | null
      delivery_address_id: number | null
      take: string[]
    },
  ]
  close: []
}>()
const reference = ref(props.quote.buyer_reference)
const wanted = ref(props.quote.requested_on ?? '')
const address = ref(
  props.quote.delivery_address_id ??
    (props.quote.addresses.find((a) => a.label.includes(',')) ?? props.quote.addresses[0])?.id ??
    null,
)
const take = ref<string[]>([])
const extras = props.quote.lines.filter((l) => l.kind === 'alternative' || l.kind === 'optional')
function words(line: Shapes['DeskLine']): string {
  const net = figure(props.quote.priced.lines.find((p) => p.id === line.key)?.net)
  const original = props.quote.lines.find((l) => l.key === line.alternative_to)
  const instead = original ? ` instead of ${original.text}` : ''
  return `${line.text}${instead}, ${net}`
}
const close = ref<'yes' | 'no' | ''>(props.quote.deal_id ? '' : 'no')

function go(): void {
  emit('accept', {
    close_deal: close.value === 'yes',
    buyer_reference: reference.value,
    requested_on: wanted.value || null,
    delivery_address_id: address.value,
    take: take.value,
  })
}
</script>

<template>
  <StepPanel
    :title="`Order from ${quote.number} ${quote.letter}: ${figure(quote.priced.totals.payable)} ${quote.currency}`"
    @close="$emit('close')"
    @go="go"
  >
    <label class="field"
      ><span>The buyer's order number</span>
      <input v-model="reference" class="input" name="buyer_reference" maxlength="60"
    /></label>
    <label class="field"
      ><span>Wanted by</span>
      <input v-model="wanted" class="input" type="date" :min="todayIso()" name="wanted"
    /></label>
    <label class="field"
      ><span>Deliver to</span>
      <select v-model="address" class="input" name="address">
        <option v-for="a in quote.addresses" :key="a.id" :value="a.id">{{ a.label }}</option>
      </select></label
    >
    <fieldset v-if="extras.length" class="extras">
      <legend>Alternatives and options that the buyer takes</legend>
      <label v-for="line in extras" :key="line.key"
        ><input v-model="take" type="checkbox" :value="line.key" /> {{ words(line) }}</label
      >
    </fieldset>
    <fieldset v-if="quote.deal_id">
      <legend>The deal “{{ quote.deal }}”</legend>
      <label
        ><input v-model="close" type="radio" value="yes" name="close" required /> is won: close
        it</label
      >
      <label><input v-model="close" type="radio" value="no" name="close" /> stays open</label>
    </fieldset>
    <button class="btn act" :disabled="busy">Make the order</button>
  </StepPanel>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
  display: flex;
  gap: 14px;
  flex-wrap: wrap;
}
legend {
  font-size: 12px;
  color: var(--ink-2);
  padding: 0;
}
</style>
