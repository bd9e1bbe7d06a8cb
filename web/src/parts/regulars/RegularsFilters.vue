<script setup lang="ts">
/** Which items the sheet shows, over how long, and the words they hold. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import FindField from '@/kit/list/FindField.vue'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { t, tn } from '@/words'
import type { Asked, Show } from './queries'

const asked = defineModel<Asked>({ required: true })
/** The depot that goods leave from; null the usual one. */
const from = defineModel<number | null>('depot', { required: true })
const props = defineProps<{
  sheet: Shapes['RegularsOut'] | undefined
  around: Shapes['AroundRegulars'] | undefined
}>()
const choices = computed(() => [
  { value: 'due', label: t('regulars.due_', { n: props.sheet?.asking ?? '' }) },
  { value: 'bought', label: t('regulars.boughtAll', { n: props.sheet?.bought ?? '' }) },
  ...(props.around?.group ? [{ value: 'group', label: t('regulars.group') }] : []),
  { value: 'all', label: t('regulars.all') },
])
const periods = computed(() =>
  ([12, 24, 36] as const).map((value) => ({ value, label: tn('regulars.monthsBack', value) })),
)
const show = computed({
  get: () => asked.value.show as string,
  set: (now) => (asked.value = { ...asked.value, show: now as Show, page: 1 }),
})
const months = computed({
  get: () => asked.value.months,
  set: (now) => (asked.value = { ...asked.value, months: now ?? 24, page: 1 }),
})
const depots = computed(() =>
  (props.around?.depots ?? []).map(({ id, name }, n) => ({
    value: n === 0 ? 0 : id,
    label: t('regulars.depotOf', { name }),
  })),
)
const depot = computed({
  get: () => from.value ?? 0,
  set: (now) => (from.value = now || null),
})
const words = computed({
  get: () => asked.value.words,
  set: (now) => (asked.value = { ...asked.value, words: now, page: 1 }),
})
</script>

<template>
  <div class="chips filters">
    <SegmentFilter v-model="show" :choices="choices" :label="t('regulars.show')" />
    <ChoiceField
      v-model="months"
      class="months"
      :choices="periods"
      :label="t('regulars.period')"
      bare
      small
    />
    <ChoiceField
      v-if="!around || depots.length > 1"
      v-model="depot"
      class="depot"
      :choices="depots"
      :label="t('regulars.depot')"
      :disabled="!around"
      bare
      small
    />
    <FindField v-model="words" :label="t('regulars.find')" />
  </div>
</template>

<style scoped>
.filters {
  margin: 10px 0;
}
.depot {
  width: 160px;
  margin: 0;
}
.months {
  width: 120px;
  margin: 0;
}
</style>
