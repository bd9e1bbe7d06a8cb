<script setup lang="ts">
/** An order of a customer on Halt: the sign-off that it needs, asked for with a reason, or answered by a lead. */
import { ref } from 'vue'
import { moment } from '@/kit/format/format'
import { t } from '@/words'
import type { Order } from './queries'

defineProps<{ order: Order; mayAsk: boolean; busy: boolean }>()
const emit = defineEmits<{ ask: [reason: string]; answer: [granted: boolean, comment: string] }>()
const words = ref('')
</script>

<template>
  <section class="card sign" :aria-label="t('orders.signOff.title')">
    <h2>{{ t('orders.signOff.title') }}</h2>
    <p>{{ t('orders.signOff.why', { name: order.customer }) }}</p>
    <p v-if="order.sign_off" class="state">
      {{
        t('checks.signOff.askedBy', {
          who: order.sign_off.asked_by,
          when: moment(order.sign_off.asked_at),
          reason: order.sign_off.reason,
        })
      }}
      <b v-if="order.sign_off.answer">
        {{
          t(`checks.signOff.${order.sign_off.answer as 'granted'}By`, {
            who: order.sign_off.answered_by,
          })
        }}{{ order.sign_off.comment ? `: “${order.sign_off.comment}”` : '.' }}
      </b>
    </p>
    <ElForm
      v-if="order.may_sign && order.sign_off && !order.sign_off.answer"
      class="ask"
      @submit.prevent
    >
      <ElInput
        v-model="words"
        name="sign_off_comment"
        :aria-label="t('checks.signOff.comment')"
        :placeholder="t('checks.signOff.comment')"
        maxlength="500"
      />
      <ElButton type="primary" :loading="busy" @click="emit('answer', true, words)">{{
        t('checks.signOff.grant')
      }}</ElButton>
      <ElButton :disabled="busy" @click="emit('answer', false, words)">{{
        t('checks.signOff.refuse')
      }}</ElButton>
    </ElForm>
    <ElForm
      v-else-if="mayAsk && order.sign_off?.answer !== 'granted'"
      class="ask"
      @submit.prevent="words.trim() && emit('ask', words)"
    >
      <ElInput
        v-model="words"
        name="sign_off_reason"
        :aria-label="t('checks.signOff.why')"
        :placeholder="t('checks.signOff.why')"
        maxlength="500"
      />
      <ElButton native-type="submit" :loading="busy" :disabled="!words.trim()">{{
        t('checks.signOff.ask')
      }}</ElButton>
    </ElForm>
  </section>
</template>

<style scoped>
.sign {
  margin-top: 10px;
  border-top-color: var(--red);
}
.state {
  margin-top: 6px;
}
.ask {
  display: flex;
  gap: 8px;
  margin-top: 8px;
  max-width: 720px;
}
</style>
