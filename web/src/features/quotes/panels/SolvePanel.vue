<script setup lang="ts">
/** Backwards: a target, and the discount that reaches it. */
import { computed, ref, watch } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { asFault } from '@/api/fault'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import { figure } from '@/kit/format/format'
import { readNumber } from '@/kit/format/readNumber'
import StepPanel from '@/kit/step/StepPanel.vue'
import type { DeskLine } from '@/parts/line/line'
import { t } from '@/words'

type Target = Shapes['SolveIn']['target']
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
const target = ref<Target>('payable')
const line = ref<string | null>(null)
const typed = ref('')
/** What was found, and for which line: an answer for another is not taken. */
const found = ref<(Shapes['SolveOut'] & { line: string }) | null>(null)
const fault = ref('')
const busy = ref(false)
let asked = 0
const ALL: Target[] = ['payable', 'net', 'margin_percent', 'price', 'line_net', 'line_margin']
const targets = computed(() =>
  ALL.filter((key) => props.margin || !key.includes('margin')).map((key) => ({
    value: key,
    label: t(`desk.solve.targets.${key}`, { currency: props.currency }),
  })),
)
const ofLine = computed(() => ['price', 'line_net', 'line_margin'].includes(target.value))
const goods = computed(() =>
  props.lines
    .filter((l) => l.item && l.kind === 'normal')
    .map((l) => ({ value: l.key, label: `${l.item?.code} ${l.text}` })),
)
watch([target, line, typed], () => {
  asked += 1
  found.value = null
  fault.value = ''
})

async function solve(): Promise<void> {
  const value = readNumber(typed.value.replace('%', ''))
  if (!value || 'doubt' in value) {
    fault.value = t('desk.solve.number')
    return
  }
  if (ofLine.value && !line.value) {
    fault.value = t('desk.solve.whichLine')
    return
  }
  const of = ofLine.value ? (line.value ?? '') : ''
  const mine = (asked += 1)
  busy.value = true
  try {
    const answer = await take(
      api.POST('/api/revisions/{revision_id}/solve', {
        params: { path: { revision_id: props.revision } },
        body: { target: target.value, value: value.value, line: of },
      }),
    )
    if (mine === asked) found.value = { ...answer, line: of }
  } catch (problem) {
    if (mine === asked) fault.value = asFault(problem).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <StepPanel :title="t('desk.solve.title')" @close="emit('close')" @go="solve">
    <ChoiceField v-model="target" :choices="targets" :label="t('desk.solve.what')" name="target" />
    <ChoiceField
      v-if="ofLine"
      v-model="line"
      class="which"
      :choices="goods"
      :label="t('desk.solve.which')"
      name="line"
    />
    <ElFormItem :label="t('desk.solve.value')" :error="fault">
      <ElInput v-model="typed" class="figure" name="value" inputmode="decimal" />
    </ElFormItem>
    <ElButton native-type="submit" :loading="busy">{{ t('desk.solve.act') }}</ElButton>
    <template v-if="found">
      <p class="answer" role="status">
        {{
          t(found.exact ? 'desk.solve.exact' : 'desk.solve.nearest', {
            amount: figure(found.amount),
            currency,
            percent: figure(found.percent),
            reached: figure(found.reached),
          })
        }}
        <span v-if="found.blocked.length" class="fault">{{ t('desk.solve.blocked') }}</span>
      </p>
      <ElButton type="primary" @click="emit('solved', found.amount, null, found.line)">
        {{ t('desk.solve.takeAmount') }}
      </ElButton>
      <ElButton v-if="!found.line" @click="emit('solved', found.amount, found.percent, '')">
        {{ t('desk.solve.takePercent', { percent: figure(found.percent) }) }}
      </ElButton>
    </template>
  </StepPanel>
</template>

<style scoped>
.answer {
  flex: 1 1 260px;
}
.which {
  min-width: 260px;
}
</style>
