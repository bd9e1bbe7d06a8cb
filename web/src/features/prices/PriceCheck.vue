<script setup lang="ts">
/** Customer, item, quantity, day: the price, its trail, the next breaks. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import CustomerPick from '@/parts/customer/CustomerPick.vue'
import PriceTrail from '@/parts/line/PriceTrail.vue'
import { newLine } from '@/parts/line/line'
import { readQuantity } from '@/parts/line/numbers'
import EmptyState from '@/kit/show/EmptyState.vue'
import { figure, todayIso, units } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { me } from '@/api/session'
import ItemPick from '@/parts/item/ItemPick.vue'

const customer = defineModel<string>('customer', { required: true })
const item = defineModel<string>('item', { required: true })
const quantity = defineModel<string>('quantity', { required: true })
const on = ref(todayIso())
const who = computed({
  get: () => Number(customer.value) || null,
  set: (id) => (customer.value = id ? String(id) : ''),
})
const what = computed({
  get: () => Number(item.value) || null,
  set: (id) => (item.value = id ? String(id) : ''),
})
const asked = computed(() => ({
  customer: who.value ?? 0,
  item: what.value ?? 0,
  quantity: asNumber(quantity.value),
  on: on.value,
}))
const { data, error, refetch } = useQuery({
  queryKey: computed(() => ['price-check', asked.value]),
  queryFn: () => take(api.GET('/api/prices/check', { params: { query: asked.value } })),
  enabled: computed(() => !!who.value && !!what.value && !!on.value),
  placeholderData: (before) => before,
  retry: false,
})
function asNumber(text: string): string {
  const got = readQuantity(text)
  return 'value' in got ? got.value : '1'
}
const line = newLine(null)
</script>

<template>
  <section class="card">
    <div class="form">
      <CustomerPick v-model="who" />
      <ItemPick v-model="what" />
      <label class="field"
        ><span>Quantity</span>
        <input v-model.lazy="quantity" class="input" inputmode="decimal" name="quantity"
      /></label>
      <label class="field"
        ><span>On</span> <input v-model="on" class="input" type="date" name="on"
      /></label>
    </div>
  </section>
  <EmptyState v-if="!who || !what" title="Which price?">
    Choose a customer and an item: the price, how it comes about, and what the next break needs.
  </EmptyState>
  <LoadState v-else-if="!data" :error="error" @again="refetch()" />
  <section v-else class="card answer">
    <header>
      <h2>{{ data.item }} for {{ data.customer }}</h2>
      <span class="soft">{{ data.currency }}</span>
    </header>
    <p class="price">
      <b>{{ figure(data.line.price) }}</b>
      <span v-if="data.line.price" class="soft">
        a {{ data.line.per === '1' ? '' : `${figure(data.line.per)} `
        }}{{ data.unit_names[data.line.unit] ?? data.line.unit }} · net
        <b>{{ figure(data.line.net) }}</b>
      </span>
      <span v-else class="fault">No price holds on this day.</span>
    </p>
    <PriceTrail
      :priced="data.line"
      :line="line"
      :above="false"
      :units="data.unit_names"
      :lists="data.names"
      :currency="data.currency"
      :editable="false"
      :margin="me?.sees_margin ?? false"
    />
    <ul class="breaks">
      <li v-for="b in data.next_breaks" :key="b.rule + b.quantity">
        With {{ units(b.quantity, data.unit_names[b.unit] ?? b.unit) }}: {{ figure(b.saves) }} less
        for what is wanted now; the larger order comes to {{ figure(b.new_net)
        }}<b v-if="b.cheaper_overall">, less than the present one</b>.
        <button class="btn small" @click="quantity = b.quantity">Ask for that</button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.answer {
  margin-top: 14px;
}
.price {
  font-size: 16px;
  margin: 4px 0 10px;
}
.price > b {
  font-size: 26px;
}
.breaks {
  margin-top: 10px;
  display: flex;
  flex-direction: column;
  gap: 6px;
}
</style>
