<script setup lang="ts">
/** What exceeds this person's limits, and the sign-off: asked, or answered by a lead. */
import { ref } from 'vue'
import type { Shapes } from '@/api/client'
import { figure, moment } from '@/kit/format/format'
import type { DeskLine } from '@/parts/line/line'
import { maybe, t } from '@/words'

const props = defineProps<{
  excesses: Shapes['ExcessOut'][]
  signOff: Shapes['SignOffOut'] | null
  lines: DeskLine[]
  /** The base currency, in which credit is counted. */
  base: string
  maySign: boolean
  mayAsk: boolean
  busy: boolean
}>()
const emit = defineEmits<{ ask: [reason: string]; answer: [granted: boolean, comment: string] }>()
const words = ref('')

function sentence(row: Shapes['ExcessOut']): string {
  const line = props.lines.find((l) => l.key === row.line)
  const facts = {
    what: line ? `${line.item?.code ?? ''} ${line.text}` : t('checks.excess.whole'),
    found: figure(row.found),
    limit: figure(row.limit),
    currency: props.base,
  }
  return maybe(`checks.excess.${row.code}`, facts) ?? row.code
}
</script>

<template>
  <ul>
    <li v-for="row in excesses" :key="row.code + row.line">{{ sentence(row) }}</li>
  </ul>
  <p v-if="signOff" class="state">
    {{
      t('checks.signOff.askedBy', {
        who: signOff.asked_by,
        when: moment(signOff.asked_at),
        reason: signOff.reason,
      })
    }}
    <b v-if="signOff.answer">
      {{ t(`checks.signOff.${signOff.answer as 'granted'}By`, { who: signOff.answered_by })
      }}{{ signOff.comment ? `: “${signOff.comment}”` : '.' }}
    </b>
  </p>
  <ElForm
    v-if="mayAsk && signOff?.answer !== 'granted'"
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
  <ElForm v-if="maySign && signOff && !signOff.answer" class="ask" @submit.prevent>
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
</template>

<style scoped>
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
