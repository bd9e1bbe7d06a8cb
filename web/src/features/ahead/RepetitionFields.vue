<script setup lang="ts">
/** On which days: by weeks or months, on weekdays or a day, in some months alone; said in words below. */
import { computed } from 'vue'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import { monthName, weekdayName } from '@/kit/format/format'
import { t, tn } from '@/words'
import { LAST_DAY, TURNS, inWords, ruleOf, turnName, type TypedRule } from './repeat'

const rule = defineModel<TypedRule>({ required: true })
defineProps<{ error?: string }>()
const change = (changes: Partial<TypedRule>) => (rule.value = { ...rule.value, ...changes })
const LONGEST = { week: 26, month: 12 }
const units = [
  { value: 'week' as const, label: t('ahead.repeat.weeks') },
  { value: 'month' as const, label: t('ahead.repeat.months') },
]
const intervals = computed(() =>
  Array.from({ length: LONGEST[rule.value.every] }, (_, n) => ({
    value: n + 1,
    label:
      rule.value.every === 'week'
        ? tn('ahead.repeat.intervals.week', n + 1)
        : tn('ahead.repeat.intervals.month', n + 1),
  })),
)
const weekdays = Array.from({ length: 7 }, (_, n) => ({ value: n, label: weekdayName(n) }))
const short = Array.from({ length: 7 }, (_, n) => ({ value: n, label: weekdayName(n, 'short') }))
const turns = TURNS.map((value) => ({ value, label: turnName(value) }))
const days = [
  ...Array.from({ length: 28 }, (_, n) => ({ value: n + 1, label: String(n + 1) })),
  { value: LAST_DAY, label: t('ahead.repeat.lastDay') },
]
const months = Array.from({ length: 12 }, (_, n) => ({ value: n + 1, label: monthName(n + 1) }))
</script>

<template>
  <ChoiceField
    :model-value="rule.every"
    :choices="units"
    :label="t('ahead.repeat.every')"
    :error="error"
    @update:model-value="(every) => every && change({ every, interval: 1 })"
  />
  <ChoiceField
    :model-value="rule.interval"
    :choices="intervals"
    :label="t('ahead.repeat.interval')"
    @update:model-value="(interval) => interval && change({ interval })"
  />
  <ElFormItem v-if="rule.every === 'week'" class="wide" :label="t('ahead.repeat.on')">
    <ElCheckboxGroup
      class="weekdays"
      :model-value="rule.weekdays"
      :aria-label="t('ahead.repeat.on')"
      @update:model-value="(chosen) => change({ weekdays: chosen as number[] })"
    >
      <ElCheckbox v-for="each in short" :key="each.value" :value="each.value">{{
        each.label
      }}</ElCheckbox>
    </ElCheckboxGroup>
  </ElFormItem>
  <template v-else>
    <ChoiceField
      :model-value="rule.turn"
      :choices="turns"
      :label="t('ahead.repeat.turn')"
      @update:model-value="(turn) => turn && change({ turn })"
    />
    <ChoiceField
      v-if="rule.turn === 'day'"
      :model-value="rule.monthDay"
      :choices="days"
      :label="t('ahead.repeat.day')"
      @update:model-value="(monthDay) => monthDay && change({ monthDay })"
    />
    <ChoiceField
      v-else
      :model-value="rule.weekday"
      :choices="weekdays"
      :label="t('ahead.repeat.on')"
      @update:model-value="(weekday) => weekday !== null && change({ weekday })"
    />
    <ElFormItem :label="t('ahead.repeat.only')">
      <ElSelect
        :model-value="rule.months"
        multiple
        collapse-tags
        :max-collapse-tags="4"
        :aria-label="t('ahead.repeat.only')"
        :placeholder="t('ahead.repeat.allYear')"
        @update:model-value="(chosen: number[]) => change({ months: chosen })"
      >
        <ElOption v-for="each in months" :key="each.value" v-bind="each" />
      </ElSelect>
    </ElFormItem>
  </template>
  <p class="said soft" role="status">{{ inWords(ruleOf(rule)) }}</p>
</template>

<style scoped>
.weekdays {
  display: flex;
  flex-wrap: wrap;
  gap: 0 14px;
}
.wide,
.said {
  grid-column: 1 / -1;
}
</style>
