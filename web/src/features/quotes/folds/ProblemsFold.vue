<script setup lang="ts">
/** What keeps the quote from being issued: each at its line, with its mend a click away. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import type { DeskLine } from '@/parts/line/line'
import { t } from '@/words'
import { worded } from '@/words/refusals'
import { numbersOf } from '@/features/quotes/grid/lineActs'

const props = defineProps<{
  problems: Shapes['ProblemOut'][]
  lines: DeskLine[]
  editable: boolean
}>()
const emit = defineEmits<{ go: [row: number]; quantity: [row: number, quantity: string] }>()
const numbers = computed(() => numbersOf(props.lines))
const rowOf = (problem: Shapes['ProblemOut']) =>
  props.lines.findIndex((line) => line.key === problem.line)
/** The quantities that would do: the nearest below and above. */
const mends = (problem: Shapes['ProblemOut']) =>
  [problem.facts.below, problem.facts.above].filter((each) => each !== undefined)
</script>

<template>
  <p v-for="problem in problems" :key="(problem.line ?? '') + problem.code">
    <ElButton v-if="problem.line" size="small" @click="emit('go', rowOf(problem))">
      {{ t('checks.line', { number: numbers[rowOf(problem)] }) }}
    </ElButton>
    {{ worded(problem) }}
    <template v-if="editable">
      <ElButton
        v-for="quantity in mends(problem)"
        :key="quantity"
        size="small"
        @click="emit('quantity', rowOf(problem), quantity)"
      >
        {{ t('checks.makeIt', { quantity: figure(quantity) }) }}
      </ElButton>
    </template>
  </p>
</template>
