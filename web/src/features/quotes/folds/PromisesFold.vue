<script setup lang="ts">
/** The lines that are short, late or coming, each with what could be done about it. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import type { DeskLine } from '@/parts/line/line'
import PromiseWord from '@/parts/promise/PromiseWord.vue'
import type { Proposal } from '@/parts/promise/usePromises'
import { proposalOf, reasonOf } from '@/parts/promise/words'
import { t } from '@/words'
import { numbersOf } from '@/features/quotes/grid/lineActs'

const props = defineProps<{
  promises: Shapes['PromisesOut'] | undefined
  unknown: '' | 'asking' | 'failed'
  lines: DeskLine[]
  editable: boolean
  busy: boolean
}>()
const emit = defineEmits<{
  go: [row: number]
  take: [key: string, proposal: Proposal]
  ask: []
}>()
const numbers = computed(() => numbersOf(props.lines))
/** In the order of the lines: what is there at once is left out. */
const found = computed(() =>
  props.lines.flatMap((line, row) => {
    const promise = props.promises?.lines.find((each) => each.key === line.key)
    const there = !promise || promise.kind === 'none' || promise.kind === 'in_stock'
    return there && !promise?.late ? [] : promise ? [{ line, row, promise }] : []
  }),
)
</script>

<template>
  <p class="one">
    <span v-if="unknown">{{ t(`promise.check.${unknown}`) }}</span>
    <span v-else-if="!found.length">{{ t('promise.check.allThere') }}</span>
    <ElButton size="small" :loading="busy" @click="emit('ask')">{{ t('promise.ask') }}</ElButton>
  </p>
  <p v-for="{ line, row, promise } in found" :key="line.key" class="one">
    <ElButton size="small" @click="emit('go', row)">{{
      t('checks.line', { number: numbers[row] })
    }}</ElButton>
    <b>{{ line.text }}</b> <PromiseWord :promise="promise" />
    <span class="soft"> {{ reasonOf(promise) }}</span>
    <template v-if="editable">
      <ElButton
        v-for="(each, n) in promise.proposals"
        :key="n"
        size="small"
        @click="emit('take', line.key, each)"
        >{{ proposalOf(each) }}</ElButton
      >
    </template>
  </p>
</template>

<style scoped>
.one {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 9px;
}
.one + .one {
  margin-top: 5px;
}
</style>
