<script setup lang="ts">
/** What holds an order before it is handed over, and the sign-off that it needs. */
import { figure } from '@/kit/format/format'
import SignOffForm from '@/parts/sign/SignOffForm.vue'
import { maybe, t } from '@/words'
import type { Order } from './queries'

defineProps<{ order: Order; mayAsk: boolean; busy: boolean }>()
type Beyond = Order['excesses'][number]
const sentence = (row: Beyond) =>
  maybe(`checks.excess.${row.code}`, {
    what: row.what || t('checks.excess.whole'),
    found: figure(row.found),
    limit: figure(row.limit),
  }) ?? row.code
const emit = defineEmits<{ ask: [reason: string]; answer: [granted: boolean, comment: string] }>()
</script>

<template>
  <section class="card sign" :aria-label="t('orders.signOff.title')">
    <h2>{{ t('orders.signOff.title') }}</h2>
    <p v-if="order.halted">{{ t('orders.signOff.why', { name: order.customer }) }}</p>
    <p v-else>{{ t('orders.signOff.limits') }}</p>
    <ul v-if="order.excesses.length">
      <li v-for="row in order.excesses" :key="row.code + row.what">{{ sentence(row) }}</li>
    </ul>
    <SignOffForm
      :sign-off="order.sign_off"
      :may-sign="order.may_sign"
      :may-ask="mayAsk"
      :busy="busy"
      @ask="(reason) => emit('ask', reason)"
      @answer="(granted, comment) => emit('answer', granted, comment)"
    />
  </section>
</template>

<style scoped>
.sign {
  margin-top: 10px;
  border-top-color: var(--red);
}
</style>
