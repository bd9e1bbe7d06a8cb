<script setup lang="ts">
/** An order of a customer on Halt, and the sign-off that it needs. */
import SignOffForm from '@/parts/sign/SignOffForm.vue'
import { t } from '@/words'
import type { Order } from './queries'

defineProps<{ order: Order; mayAsk: boolean; busy: boolean }>()
const emit = defineEmits<{ ask: [reason: string]; answer: [granted: boolean, comment: string] }>()
</script>

<template>
  <section class="card sign" :aria-label="t('orders.signOff.title')">
    <h2>{{ t('orders.signOff.title') }}</h2>
    <p>{{ t('orders.signOff.why', { name: order.customer }) }}</p>
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
