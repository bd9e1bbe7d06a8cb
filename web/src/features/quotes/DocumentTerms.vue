<script setup lang="ts">
/** The terms of the whole: validity, discount on net or gross, charges, contact, words. */
import { computed, ref, watch } from 'vue'
import type { Shapes } from '@/api/client'
import { figure, todayIso } from '@/kit/format/format'
import { say } from '@/kit/act/notices'
import { readDiscount } from '@/parts/line/numbers'
import PaymentTerms from './PaymentTerms.vue'
import type { DeskCharge, DeskFields } from './useDesk'

const props = defineProps<{
  fields: DeskFields
  contacts: Shapes['ContactOut'][]
  currency: string
  categories: Record<string, string>
  addresses: Shapes['AddressChoice'][]
  /** What paying early is worth a year, in percent. */
  rate: string | null
}>()
const emit = defineEmits<{ change: [fields: Partial<DeskFields>] }>()
/** The second row is open where something stands in it. */
const more = ref(!!props.fields.requested_on || !!props.fields.delivery_address_id)
const shown = computed(() =>
  props.fields.discount_amount
    ? `${props.fields.discount_amount} ${props.currency}`
    : props.fields.discount_percent,
)
const discount = ref(shown.value)
watch(shown, (value) => (discount.value = value))

function setDiscount(): void {
  const read = readDiscount(discount.value, props.currency)
  if (!read) {
    say(`A discount is a percent, as 3, or an amount, as 120 ${props.currency}.`)
    discount.value = shown.value
    return
  }
  const next = {
    discount_percent: read.discount_percent ?? '',
    discount_amount: read.discount_amount ?? '',
  }
  if (
    next.discount_percent !== props.fields.discount_percent ||
    next.discount_amount !== props.fields.discount_amount
  )
    emit('change', next)
}
function value(event: Event): string {
  return (event.target as HTMLInputElement).value
}
function setCharge(n: number, change: Partial<DeskCharge>): void {
  emit('change', {
    charges: props.fields.charges.map((row, m) => (m === n ? { ...row, ...change } : row)),
  })
}
function setFigure(n: number, event: Event): void {
  const read = readDiscount(value(event), props.currency)
  const plain = readDiscount(`${value(event)} ${props.currency}`, props.currency)
  if (value(event).includes('%') && read?.discount_percent) {
    setCharge(n, { percent: read.discount_percent, amount: null })
  } else if (read?.discount_amount || plain?.discount_amount) {
    setCharge(n, { percent: null, amount: read?.discount_amount ?? plain?.discount_amount })
  } else say(`A charge is an amount, as 45, or a percent, as 2 %.`)
}
function addCharge(): void {
  emit('change', {
    charges: [
      ...props.fields.charges,
      { name: 'Freight', percent: null, amount: '0', tax_category: 'standard' },
    ],
  })
}
</script>

<template>
  <div class="terms">
    <label
      ><span>Valid until</span>
      <input
        class="input"
        type="date"
        name="valid_until"
        :value="fields.valid_until"
        @change="value($event) && emit('change', { valid_until: value($event) })"
    /></label>
    <label
      ><span>Discount</span>
      <input
        v-model="discount"
        class="input"
        name="discount"
        placeholder="3 %"
        @change="setDiscount"
    /></label>
    <label
      ><span>on</span>
      <select
        class="input on"
        name="discount_on"
        :value="fields.discount_on"
        @change="emit('change', { discount_on: value($event) as 'net' })"
      >
        <option value="net">net</option>
        <option value="gross">gross</option>
      </select></label
    >
    <label class="grow"
      ><span>For</span>
      <select
        class="input"
        name="contact"
        :value="fields.contact_id ?? ''"
        @change="emit('change', { contact_id: Number(value($event)) || null })"
      >
        <option v-for="c in contacts" :key="c.id" :value="c.id">
          {{ c.name }}{{ c.role ? `, ${c.role}` : '' }}
        </option>
      </select></label
    >
    <label
      ><span>Reference</span>
      <input
        class="input"
        name="reference"
        maxlength="60"
        :value="fields.buyer_reference"
        @change="emit('change', { buyer_reference: value($event) })"
    /></label>
    <label class="wide"
      ><span>Words</span>
      <input
        class="input"
        name="message"
        maxlength="1000"
        placeholder="on the quote"
        :value="fields.message"
        @change="emit('change', { message: value($event) })"
    /></label>
    <label
      ><span>Paper</span>
      <select
        class="input"
        name="paper"
        :value="fields.paper"
        @change="emit('change', { paper: value($event) as 'short' })"
      >
        <option value="short">short</option>
        <option value="detailed">detailed</option>
      </select></label
    >
    <button class="btn small" :aria-expanded="more" @click="more = !more">More terms</button>
    <div v-if="more" class="row">
      <PaymentTerms :fields="fields" :rate="rate" @change="emit('change', $event)" />
      <label
        ><span>Wanted by</span>
        <input
          class="input"
          type="date"
          name="requested_on"
          :min="todayIso()"
          :value="fields.requested_on ?? ''"
          @change="emit('change', { requested_on: value($event) || null })"
      /></label>
      <label
        ><span>Deliver to</span>
        <select
          class="input place"
          name="deliver_to"
          :value="fields.delivery_address_id ?? ''"
          @change="emit('change', { delivery_address_id: Number(value($event)) || null })"
        >
          <option value="">their usual place</option>
          <option v-for="a in addresses" :key="a.id" :value="a.id">{{ a.label }}</option>
        </select></label
      >
      <button class="btn small" @click="addCharge">Add a charge</button>
    </div>
    <div v-for="(charge, n) in fields.charges" :key="n" class="charge">
      <input
        class="input"
        aria-label="Charge"
        maxlength="60"
        :value="charge.name"
        @change="setCharge(n, { name: value($event) || charge.name })"
      />
      <input
        class="input figure"
        aria-label="Amount or percent"
        :value="charge.percent ? `${charge.percent} %` : figure(charge.amount)"
        @change="setFigure(n, $event)"
      />
      <select
        class="input"
        aria-label="Tax of the charge"
        :value="charge.tax_category"
        @change="setCharge(n, { tax_category: value($event) })"
      >
        <option v-for="(name, code) in categories" :key="code" :value="code">{{ name }}</option>
      </select>
      <button
        class="btn quiet small"
        :aria-label="`Take away: ${charge.name}`"
        @click="emit('change', { charges: fields.charges.filter((_, m) => m !== n) })"
      >
        Take away
      </button>
    </div>
  </div>
</template>

<style scoped>
.terms {
  display: flex;
  gap: 8px 10px;
  flex-wrap: wrap;
  align-items: center;
  margin: 8px 0;
}
label {
  display: flex;
  align-items: center;
  gap: 6px;
}
label > span {
  font-size: 12px;
  color: var(--ink-2);
  white-space: nowrap;
}
.input {
  height: 27px;
  width: auto;
}
input[name='discount'] {
  width: 76px;
  text-align: right;
}
input[name='reference'] {
  width: 84px;
}
.grow .input {
  width: 124px;
}
.wide {
  flex: 1 1 130px;
}
.wide .input {
  flex: 1;
  width: 0;
  min-width: 90px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 10px;
  align-items: center;
  flex-basis: 100%;
}
.place {
  max-width: 260px;
}
.charge {
  display: flex;
  gap: 6px;
  align-items: center;
}
.charge .figure {
  width: 90px;
  text-align: right;
}
@media (max-width: 820px) {
  label {
    flex: 1 1 100%;
  }
  .input {
    flex: 1;
  }
}
</style>
