<script setup lang="ts">
/** What so much of an item costs a customer on a day: the price, its trail, the next breaks. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '@/api/client'
import { me } from '@/api/session'
import { figure, units } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { newLine } from '@/parts/line/line'
import PriceTrail from '@/parts/line/PriceTrail.vue'
import { t } from '@/words'

const props = defineProps<{ customer: number; item: number; quantity: string; on: string }>()
/** A quantity to ask for instead. */
const emit = defineEmits<{ ask: [quantity: string] }>()
const asked = computed(() => ({
  customer: props.customer,
  item: props.item,
  quantity: props.quantity,
  on: props.on,
}))
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['price-check', asked.value]),
  queryFn: ({ signal }) =>
    take(api.GET('/api/prices/check', { params: { query: asked.value }, signal })),
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
  <LoadState v-if="!data || error" :error="error" :rows="3" @again="refetch()" />
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
        <ElButton size="small" @click="emit('ask', b.quantity)">{{
          t('prices.check.ask')
        }}</ElButton>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.stale {
  opacity: 0.55;
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
