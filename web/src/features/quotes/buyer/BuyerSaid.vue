<script setup lang="ts">
/** What the buyer said: a yes that becomes an order by one click, or a wish that is answered. */
import { ref } from 'vue'
import type { Shapes } from '@/api/client'
import { figure, moment } from '@/kit/format/format'
import { t } from '@/words'

const props = defineProps<{
  said: Shapes['SaidOut']
  quote: Shapes['QuoteOut']
  busy: boolean
}>()
const emit = defineEmits<{ order: [close: boolean]; reply: [words: string] }>()
const words = ref('')
const replying = ref(false)
const close = ref<'yes' | 'no' | ''>(props.quote.deal_id ? '' : 'no')
const missing = ref(false)
function order(): void {
  missing.value = close.value === ''
  if (!missing.value) emit('order', close.value === 'yes')
}
function reply(): void {
  if (words.value.trim()) emit('reply', words.value)
}
</script>

<template>
  <article :class="[said.state, said.kind]">
    <p>
      <b>{{
        said.kind === 'accepts'
          ? t('buyer.accepts', {
              name: said.name,
              payable: figure(said.payable),
              currency: quote.currency,
            })
          : t('buyer.asks', { name: said.name })
      }}</b>
      {{ ' ' }}<span class="soft">{{ moment(said.at) }} · {{ said.address }}</span>
      <template v-if="said.reference">
        · {{ t('orders.theirNumber', { number: said.reference }) }}</template
      >
    </p>
    <p v-if="said.words">{{ said.words }}</p>
    <ul v-if="said.lines.length" class="chips">
      <li v-for="(line, n) in said.lines" :key="n">
        {{ figure(line.quantity) }} {{ quote.unit_names[line.unit] ?? line.unit }} {{ line.text }}
      </li>
    </ul>
    <p v-if="said.order_id">
      <RouterLink :to="`/orders/${said.order_id}`">{{
        t('orders.order', { number: said.order })
      }}</RouterLink>
    </p>
    <p v-if="said.reply" class="soft">
      {{ t('buyer.replied', { who: said.decided_by, reply: said.reply }) }}
    </p>
    <div v-if="said.state === 'new'" class="acts">
      <template v-if="said.kind === 'accepts'">
        <ElRadioGroup
          v-if="quote.deal_id"
          v-model="close"
          size="small"
          :aria-label="t('desk.accept.deal', { deal: quote.deal })"
        >
          <ElRadio value="yes">{{ t('desk.accept.won') }}</ElRadio>
          <ElRadio value="no">{{ t('desk.accept.staysOpen') }}</ElRadio>
        </ElRadioGroup>
        <ElButton type="primary" size="small" :loading="busy" @click="order">{{
          t('buyer.order')
        }}</ElButton>
        <RouterLink class="btn small" :to="`/orders/new?from=${quote.id}&answer=${said.id}`">{{
          t('buyer.orderFirst')
        }}</RouterLink>
      </template>
      <ElButton v-if="!replying" size="small" @click="replying = true">{{
        said.kind === 'accepts' ? t('buyer.notSo') : t('buyer.reply')
      }}</ElButton>
      <form v-else class="reply" @submit.prevent="reply">
        <ElInput
          v-model="words"
          size="small"
          maxlength="500"
          :placeholder="t('buyer.reads')"
          :aria-label="t('buyer.reads')"
        />
        <ElButton size="small" native-type="submit" :loading="busy">{{ t('buyer.send') }}</ElButton>
      </form>
    </div>
    <p v-if="missing && !close" class="fault" role="alert">{{ t('desk.accept.choose') }}</p>
  </article>
</template>

<style scoped>
article {
  border-left: 4px solid var(--rule);
  padding: 2px 10px;
  margin-top: 8px;
}
article.new {
  border-color: var(--coral);
}
article.taken {
  border-color: var(--teal);
}
p {
  margin: 0 0 3px;
}
.acts,
.reply {
  display: flex;
  gap: 6px 12px;
  flex-wrap: wrap;
  align-items: center;
  flex: 1;
}
</style>
