<script setup lang="ts">
/** What exceeds this person's limits, and the sign-off: asked, or answered by a lead. */
import { ref } from 'vue'
import type { Shapes } from '@/api/client'
import { figure, moment } from '@/kit/format/format'
import type { DeskLine } from '@/parts/line/line'

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
defineEmits<{ ask: [reason: string]; answer: [granted: boolean, comment: string] }>()
const words = ref('')

function sentence(row: Shapes['ExcessOut']): string {
  const line = props.lines.find((l) => l.key === row.line)
  const what = line ? `${line.item?.code ?? ''} ${line.text}` : 'The whole'
  const found = `${figure(row.found ?? '')} %`
  const limit = `${figure(row.limit)} %`
  const found_: Record<string, string> = {
    line_discount: `${what}: your own discount of ${found} is beyond ${limit}.`,
    document_discount: `${what}: a discount of ${found} is beyond ${limit}.`,
    margin_floor: `${what}: a margin of ${found} is below the floor of ${limit}.`,
    free_line: `${what}: given away, though a floor of ${limit} holds.`,
    unknown_cost: `${what}: its cost is not known, so the floor of ${limit} cannot be judged.`,
    credit: `${figure(row.found ?? '')} ${props.base} over the customer's credit limit, beyond your ${figure(row.limit)}.`,
  }
  return found_[row.code] ?? row.code
}
</script>

<template>
  <ul>
    <li v-for="row in excesses" :key="row.code + row.line">{{ sentence(row) }}</li>
  </ul>
  <p v-if="signOff" class="state">
    Asked by {{ signOff.asked_by }}, {{ moment(signOff.asked_at) }}: “{{ signOff.reason }}”
    <b v-if="signOff.answer">
      {{ signOff.answer === 'granted' ? 'Signed off' : 'Refused' }} by {{ signOff.answered_by
      }}<template v-if="signOff.comment">: “{{ signOff.comment }}”</template>.
    </b>
  </p>
  <form
    v-if="mayAsk && signOff?.answer !== 'granted'"
    class="ask"
    @submit.prevent="$emit('ask', words)"
  >
    <input
      v-model="words"
      class="input"
      name="sign_off_reason"
      aria-label="Why it should be signed off"
      placeholder="Why it should be signed off"
      maxlength="500"
      required
    />
    <button class="btn" :disabled="busy">Ask for a sign-off</button>
  </form>
  <form v-if="maySign && signOff && !signOff.answer" class="ask" @submit.prevent>
    <input
      v-model="words"
      class="input"
      name="sign_off_comment"
      aria-label="A word to the rep"
      placeholder="A word to the rep"
      maxlength="500"
    />
    <button class="btn act" :disabled="busy" @click="$emit('answer', true, words)">Sign off</button>
    <button class="btn" :disabled="busy" @click="$emit('answer', false, words)">Refuse</button>
  </form>
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
