<script setup lang="ts">
/** Customer, item, quantity, day: the price, its trail, the next breaks. */
import { ref } from 'vue'
import DayField from '@/kit/form/DayField.vue'
import TextField from '@/kit/form/TextField.vue'
import { figure, todayIso } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import CustomerPick from '@/parts/customer/CustomerPick.vue'
import ItemPick from '@/parts/item/ItemPick.vue'
import { readQuantity } from '@/parts/line/numbers'
import PriceAnswer from '@/parts/line/PriceAnswer.vue'
import { idIn, quantityIn } from '@/parts/line/priceQuestion'
import { t } from '@/words'

const customer = defineModel<string>('customer', { required: true })
const item = defineModel<string>('item', { required: true })
const quantity = defineModel<string>('quantity', { required: true })
const on = ref<string | null>(todayIso())
const who = idIn(customer)
const what = idIn(item)
const wanted = quantityIn(quantity)
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
  <PriceAnswer
    v-else
    class="answer"
    :customer="who"
    :item="what"
    :quantity="wanted"
    :on="on ?? todayIso()"
    @ask="(more) => (quantity = more)"
  />
</template>

<style scoped>
.answer {
  margin-top: 14px;
}
</style>
