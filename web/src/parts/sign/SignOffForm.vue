<script setup lang="ts">
/** A sign-off as it stands: asked for with a reason, or answered with a word. */
import { ref } from 'vue'
import { moment } from '@/kit/format/format'
import { t } from '@/words'

interface SignOff {
  reason: string
  asked_by: string
  asked_at: string
  answer: string
  answered_by: string
  comment: string
}
defineProps<{ signOff: SignOff | null; maySign: boolean; mayAsk: boolean; busy: boolean }>()
const emit = defineEmits<{ ask: [reason: string]; answer: [granted: boolean, comment: string] }>()
const words = ref('')
</script>

<template>
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
  <ElForm
    v-else-if="mayAsk && signOff?.answer !== 'granted'"
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
