<script setup lang="ts">
/** Customer, item, quantity, day: the price, its trail, the next breaks. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import { me } from '@/api/session'
import DayField from '@/kit/form/DayField.vue'
import TextField from '@/kit/form/TextField.vue'
import { figure, todayIso, units } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import CustomerPick from '@/parts/customer/CustomerPick.vue'
import ItemPick from '@/parts/item/ItemPick.vue'
import { newLine } from '@/parts/line/line'
import { readQuantity } from '@/parts/line/numbers'
import PriceTrail from '@/parts/line/PriceTrail.vue'
import { t } from '@/words'

const customer = defineModel<string>('customer', { required: true })
const item = defineModel<string>('item', { required: true })
const quantity = defineModel<string>('quantity', { required: true })
const on = ref<string | null>(todayIso())
const who = computed({
  get: () => Number(customer.value) || null,
  set: (id) => (customer.value = id ? String(id) : ''),
})
const what = computed({
  get: () => Number(item.value) || null,
  set: (id) => (item.value = id ? String(id) : ''),
})
const wanted = computed(() => {
  const got = readQuantity(quantity.value)
  return 'value' in got ? got.value : '1'
})
const asked = computed(() => ({
  customer: who.value ?? 0,
  item: what.value ?? 0,
  quantity: wanted.value,
  on: on.value ?? todayIso(),
}))
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['price-check', asked.value]),
  queryFn: ({ signal }) =>
    take(api.GET('/api/prices/check', { params: { query: asked.value }, signal })),
  enabled: computed(() => !!who.value && !!what.value),
  placeholderData: (before) => before,
})
const line = newLine(null)
const unitName = (code: string) => data.value?.unit_names[code] ?? code
const per = computed(() => {
  const l = data.value?.line
  return l ? `${l.per === '1' ? '' : `${figure(l.per)} `}${unitName(l.unit)}` : ''
})
</script>

<template>
  <ElForm class="card" label-position="top" @submit.prevent>
    <div class="form">
      <CustomerPick v-model="who" />
      <ItemPick v-model="what" />
      <TextField
        :text="figure(wanted)"
        :label="t('desk.grid.quantity')"
        name="quantity"
        figure
        :read="readQuantity"
        @change="(value) => (quantity = value)"
      />
      <DayField v-model="on" :label="t('prices.check.on')" name="on" />
    </div>
  </ElForm>
  <EmptyState v-if="!who || !what" :title="t('prices.check.which')">
    {{ t('prices.check.hint') }}
  </EmptyState>
  <LoadState v-else-if="!data || error" :error="error" @again="refetch()" />
  <section v-else class="card answer" :class="{ stale: isPlaceholderData }">
    <header>
      <h2>{{ t('prices.check.for', { item: data.item, customer: data.customer }) }}</h2>
      <span class="soft">{{ data.currency }}</span>
    </header>
    <p class="price">
      <b>{{ figure(data.line.price) }}</b>&nbsp;
      <span v-if="data.line.price" class="soft">
        {{ t('prices.check.aUnit', { unit: per }) }} <b>{{ figure(data.line.net) }}</b>
      </span>
      <span v-else class="fault">{{ t('prices.check.noPrice') }}</span>
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
        {{
          t(b.cheaper_overall ? 'prices.check.breakCheaper' : 'prices.check.break', {
            quantity: units(b.quantity, unitName(b.unit)),
            saves: figure(b.saves),
            net: figure(b.new_net),
          })
        }}
        <ElButton size="small" @click="quantity = b.quantity">{{ t('prices.check.ask') }}</ElButton>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.stale {
  opacity: 0.55;
}
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
