<script setup lang="ts">
/** What the item costs the customer at hand today, why, and what they paid before. */
import TextField from '@/kit/form/TextField.vue'
import { figure, todayIso } from '@/kit/format/format'
import CustomerPick from '@/parts/customer/CustomerPick.vue'
import { readQuantity } from '@/parts/line/numbers'
import PastPrices from '@/parts/line/PastPrices.vue'
import PriceAnswer from '@/parts/line/PriceAnswer.vue'
import { idIn, quantityIn } from '@/parts/line/priceQuestion'
import { t } from '@/words'

defineProps<{ item: number; unit: string }>()
/** As the address holds them. */
const customer = defineModel<string>('customer', { required: true })
const quantity = defineModel<string>('quantity', { required: true })
const who = idIn(customer)
const wanted = quantityIn(quantity)
</script>

<template>
  <section class="price" :aria-label="t('promise.page.price')">
    <ElForm class="card asked" label-position="top" @submit.prevent>
      <CustomerPick v-model="who" :label="t('promise.page.customer')" />
      <TextField
        :text="figure(wanted)"
        :label="t('desk.grid.quantity')"
        name="quantity"
        figure
        :read="readQuantity"
        @change="(value) => (quantity = value)"
      />
      <PastPrices v-if="who" :customer="who" :item="item" :unit="unit" />
    </ElForm>
    <PriceAnswer
      v-if="who"
      :customer="who"
      :item="item"
      :quantity="wanted"
      :on="todayIso()"
      @ask="(more) => (quantity = more)"
    />
  </section>
</template>

<style scoped>
.price {
  display: grid;
  grid-template-columns: minmax(240px, 320px) minmax(0, 1fr);
  gap: 14px;
  align-items: start;
  margin-top: 14px;
}
.asked {
  display: grid;
  gap: 12px;
}
.asked :deep(.past) {
  flex-wrap: wrap;
}
@media (max-width: 820px) {
  .price {
    grid-template-columns: 1fr;
  }
}
</style>
