<script setup lang="ts">
/** What narrows the Timetable. */
import { computed } from 'vue'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import { figure } from '@/kit/format/format'
import FindField from '@/kit/list/FindField.vue'
import RepFilter from '@/kit/list/RepFilter.vue'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import CustomerFilter from '@/parts/customer/CustomerFilter.vue'
import { confidenceChoices } from '@/parts/deal/confidence'
import { t } from '@/words'
import type { Shapes } from '@/api/client'

const props = defineProps<{ stages: Shapes['StageOut'][] }>()
const words = defineModel<string>('words', { required: true })
const owner = defineModel<string>('owner', { required: true })
const team = defineModel<string>('team', { required: true })
const customer = defineModel<string>('customer', { required: true })
const family = defineModel<string>('family', { required: true })
const confidence = defineModel<string>('confidence', { required: true })
const stage = defineModel<string>('stage', { required: true })
const since = defineModel<string>('since', { required: true })
const until = defineModel<string>('until', { required: true })
const least = defineModel<string>('least', { required: true })
const stale = defineModel<string>('stale', { required: true })
/** What counts as large. */
const LARGE = '10000'
const confidences = [{ value: '', label: t('list.all') }, ...confidenceChoices()]
const stageChoices = computed(() => [
  { value: '', label: t('deals.anyStage') },
  ...props.stages.map((each) => ({ value: each.code, label: each.name })),
])
const large = computed({
  get: () => least.value === LARGE,
  set: (on) => (least.value = on ? LARGE : ''),
})
const unattended = computed({
  get: () => stale.value !== '',
  set: (on) => (stale.value = on ? 'true' : ''),
})
</script>

<template>
  <div class="chips filters">
    <FindField v-model="words" :label="t('deals.find')" />
    <RepFilter v-model="owner" v-model:team="team" />
    <CustomerFilter v-model="customer" v-model:family="family" />
    <ChoiceField
      class="pick"
      :model-value="stage"
      :choices="stageChoices"
      :label="t('deals.form.stage')"
      bare
      small
      @update:model-value="(now) => (stage = now ?? '')"
    />
    <DayField
      class="day"
      bare
      small
      clearable
      :model-value="since || null"
      :label="t('board.since')"
      :placeholder="t('board.since')"
      @update:model-value="(day) => (since = day ?? '')"
    />
    <DayField
      class="day"
      bare
      small
      clearable
      :model-value="until || null"
      :label="t('board.until')"
      :placeholder="t('board.until')"
      @update:model-value="(day) => (until = day ?? '')"
    />
    <SegmentFilter
      v-model="confidence"
      :choices="confidences"
      :label="t('deals.form.confidence')"
    />
    <ElCheckbox v-model="large">{{ t('board.large', { amount: figure(LARGE) }) }}</ElCheckbox>
    <ElCheckbox v-model="unattended" :title="t('board.staleHint')">{{
      t('board.stale')
    }}</ElCheckbox>
  </div>
</template>

<style scoped>
.filters {
  margin-bottom: 8px;
}
.pick {
  width: 140px;
}
.day {
  width: 128px;
  margin: 0;
}
</style>
