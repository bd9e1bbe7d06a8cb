<script setup lang="ts">
/** "Move to…": the stage and the day of a deal by choice, where dragging is no way. */
import { computed, ref, watch } from 'vue'
import type { Shapes } from '@/api/client'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import { daysBetween, todayIso } from '@/kit/format/format'
import StepPanel from '@/kit/step/StepPanel.vue'
import { t } from '@/words'
import type { Wish } from './many'
import type { DealRow } from './queries'
import type { Place } from './useMoves'

const props = defineProps<{ deal: DealRow; stages: Shapes['StageOut'][] }>()
const emit = defineEmits<{ move: [to: Partial<Place>]; close: []; aim: [wish: Wish] }>()
const stage = ref<string | null>(props.deal.stage)
const day = ref<string | null>(props.deal.decision_on)
const choices = computed(() => props.stages.map((s) => ({ value: s.code, label: s.name })))
watch([stage, day], () => {
  const { deal } = props
  const shift = daysBetween(deal.decision_on, day.value ?? deal.decision_on)
  emit('aim', { stage: stage.value === deal.stage ? null : stage.value, owner: null, shift })
})
const go = () =>
  emit('move', { stage: stage.value ?? undefined, decision_on: day.value ?? undefined })
</script>

<template>
  <StepPanel
    :title="t('board.moveTo', { customer: deal.customer })"
    @close="emit('close')"
    @go="go"
  >
    <ChoiceField v-model="stage" class="stage" :choices="choices" :label="t('deals.form.stage')" />
    <DayField v-model="day" :label="t('deals.form.decision')" :from="todayIso()" />
    <ElButton type="primary" native-type="submit">{{ t('board.move') }}</ElButton>
  </StepPanel>
</template>

<style scoped>
.stage {
  min-width: 190px;
}
</style>
