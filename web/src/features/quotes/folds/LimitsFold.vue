<script setup lang="ts">
/** What exceeds this person's limits, and the sign-off: asked, or answered by a lead. */
import type { Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import type { DeskLine } from '@/parts/line/line'
import SignOffForm from '@/parts/sign/SignOffForm.vue'
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
  <SignOffForm
    :sign-off="signOff"
    :may-sign="maySign"
    :may-ask="mayAsk"
    :busy="busy"
    @ask="(reason) => emit('ask', reason)"
    @answer="(granted, comment) => emit('answer', granted, comment)"
  />
</template>
