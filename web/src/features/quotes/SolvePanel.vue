<script setup lang="ts">
/** Backwards: a target, and the discount that reaches it. */
import { computed, ref, watch } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import { readNumber } from '@/parts/line/numbers'
import StepPanel from '@/kit/step/StepPanel.vue'
import type { DeskLine } from '@/parts/line/line'

const props = defineProps<{
  revision: number
  currency: string
  lines: DeskLine[]
  margin: boolean
}>()
const emit = defineEmits<{
  solved: [amount: string, percent: string | null, line: string]
  close: []
}>()
type Target = Shapes['SolveIn']['target']
const target = ref<Target>('payable')
const line = ref('')
const typed = ref('')
const found = ref<Shapes['SolveOut'] | null>(null)
const fault = ref('')
const targets = computed<[Target, string][]>(() => [
  ['payable', `Payable ${props.currency}`],
  ['net', `Net ${props.currency}`],
  ...(props.margin ? ([['margin_percent', 'Margin %']] as [Target, string][]) : []),
  ['price', 'Price of a line'],
  ['line_net', 'Net of a line'],
  ...(props.margin ? ([['line_margin', 'Margin % of a line']] as [Target, string][]) : []),
])
const ofLine = computed(() => ['price', 'line_net', 'line_margin'].includes(target.value))
const goods = computed(() => props.lines.filter((l) => l.item && l.kind === 'normal'))
watch([target, line, typed], () => (found.value = null))

async function solve(): Promise<void> {
  const value = readNumber(typed.value, 6)
  if (value === null) {
    fault.value = 'Type a number, as 12500 or 31.5.'
    return
  }
  try {
    fault.value = ''
    found.value = await take(
      api.POST('/api/revisions/{revision_id}/solve', {
        params: { path: { revision_id: props.revision } },
        body: { target: target.value, value, line: ofLine.value ? line.value : '' },
      }),
    )
  } catch (problem) {
    fault.value = problem instanceof Error ? problem.message : ''
  }
}
</script>

<template>
  <StepPanel title="Solve for a target" @close="$emit('close')" @go="solve">
    <label class="field"
      ><span>What</span>
      <select v-model="target" class="input" name="target">
        <option v-for="[key, name] in targets" :key="key" :value="key">{{ name }}</option>
      </select></label
    >
    <label v-if="ofLine" class="field"
      ><span>Which line</span>
      <select v-model="line" class="input" name="line" required>
        <option v-for="l in goods" :key="l.key" :value="l.key">
          {{ l.item?.code }} {{ l.text }}
        </option>
      </select></label
    >
    <label class="field"
      ><span>Should come to</span>
      <input v-model="typed" class="input" name="value" inputmode="decimal" required
    /></label>
    <button class="btn">Solve</button>
    <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
    <p v-if="found" class="answer">
      A discount of <b>{{ figure(found.amount) }} {{ currency }}</b> ({{ figure(found.percent) }} %)
      brings {{ figure(found.reached) }}<template v-if="!found.exact">, the nearest</template>.
      <span v-if="found.blocked.length" class="fault">Beyond your limits: needs a sign-off.</span>
    </p>
    <template v-if="found">
      <button
        type="button"
        class="btn act"
        @click="emit('solved', found.amount, null, ofLine ? line : '')"
      >
        Take the amount
      </button>
      <button
        v-if="!ofLine"
        type="button"
        class="btn"
        @click="emit('solved', found.amount, found.percent, '')"
      >
        Take {{ figure(found.percent) }} %
      </button>
    </template>
  </StepPanel>
</template>

<style scoped>
.answer,
.fault {
  flex: 1 1 260px;
}
</style>
