<script setup lang="ts">
/** What keeps the quote from being issued: each at its line, with its mend a click away. */
import type { Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import type { DeskLine } from '@/parts/line/line'

const props = defineProps<{
  problems: Shapes['ProblemOut'][]
  lines: DeskLine[]
  editable: boolean
}>()
const emit = defineEmits<{ go: [row: number]; quantity: [row: number, quantity: string] }>()
const rowOf = (problem: Shapes['ProblemOut']) =>
  props.lines.findIndex((line) => line.key === problem.line)
/** The quantities that would do: the nearest below and above. */
const mends = (problem: Shapes['ProblemOut']) =>
  [problem.below, problem.above].filter((each) => each != null)
</script>

<template>
  <p v-for="problem in problems" :key="(problem.line ?? '') + problem.code">
    <button v-if="problem.line" class="btn small" @click="emit('go', rowOf(problem))">
      Line {{ rowOf(problem) + 1 }}
    </button>
    {{ problem.words }}
    <template v-if="editable">
      <button
        v-for="quantity in mends(problem)"
        :key="quantity"
        class="btn small"
        @click="emit('quantity', rowOf(problem), quantity)"
      >
        Make it {{ figure(quantity) }}
      </button>
    </template>
  </p>
</template>
