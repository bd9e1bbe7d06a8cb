<script setup lang="ts">
/** What somebody commits to, or the lead's judgement with its reason; the last word stays readable. */
import { ref } from 'vue'
import type { Shapes } from '@/api/client'
import TextField from '@/kit/form/TextField.vue'
import { figure, moment } from '@/kit/format/format'
import { readAmount } from '@/parts/line/numbers'
import { t } from '@/words'

const props = defineProps<{
  judged: boolean
  word: Shapes['WordOut'] | null
  currency: string
  busy: boolean
}>()
const emit = defineEmits<{ keep: [amount: string | null, reason: string]; close: [] }>()
const amount = ref(props.word?.amount ?? '')
const reason = ref(props.word?.reason ?? '')
const missing = ref('')
const read = (text: string) => readAmount(text, props.currency, 2)
function keep(): void {
  missing.value = props.judged && !reason.value.trim() ? t('forecast.words.because') : ''
  if (!missing.value && amount.value) emit('keep', amount.value, reason.value)
}
</script>

<template>
  <form @submit.prevent="keep" @keydown.esc="emit('close')">
    <TextField
      figure
      :text="amount ? figure(amount) : ''"
      :label="judged ? t('forecast.words.judged') : t('forecast.words.committed')"
      :unit="currency"
      :read="read"
      @change="(now) => (amount = now)"
    />
    <TextField
      class="reason"
      :text="reason"
      :label="t('forecast.words.reason')"
      :error="missing"
      :maxlength="200"
      @change="(now) => (reason = now)"
    />
    <ElButton type="primary" native-type="submit" :loading="busy">{{
      judged ? t('forecast.words.keepJudged') : t('forecast.words.keep')
    }}</ElButton>
    <ElButton v-if="word?.amount" @click="emit('keep', null, '')">{{
      t('forecast.words.takeBack')
    }}</ElButton>
    <ElButton text @click="emit('close')">{{ t('kit.step.notYet') }}</ElButton>
    <p v-if="word?.amount" class="soft">
      {{
        t('forecast.words.last', {
          amount: figure(word.amount),
          who: word.who,
          when: moment(word.at),
        })
      }}
    </p>
  </form>
</template>

<style scoped>
form {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: flex-end;
  padding: 6px 0;
  text-align: left;
}
.reason {
  flex: 1;
  min-width: 220px;
}
p {
  flex-basis: 100%;
}
</style>
