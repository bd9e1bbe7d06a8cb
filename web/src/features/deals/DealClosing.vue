<script setup lang="ts">
/** Why a deal was won, lost or parked, and to whom a lost one went. */
import { computed } from 'vue'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import TextField from '@/kit/form/TextField.vue'
import { t } from '@/words'
import { useReasons, type Deal } from './queries'
import type { DealFields } from './useDealDraft'

const props = defineProps<{ deal: Deal; state: DealFields }>()
const emit = defineEmits<{ set: [change: Partial<DealFields>] }>()
const reasons = useReasons()
const choices = computed(() =>
  (reasons.data.value ?? [])
    .filter((each) => each.outcome === props.deal.outcome)
    .filter((each) => !each.retired || each.id === props.state.reason_id)
    .map(({ id, name }) => ({ value: id, label: name })),
)
const label = computed(() => t(`deals.closing.${props.deal.outcome as 'won' | 'lost' | 'parked'}`))
</script>

<template>
  <ElForm label-position="top" class="closing" :aria-label="label" @submit.prevent>
    <ChoiceField
      :model-value="state.reason_id"
      :choices="choices"
      :label="label"
      name="reason_id"
      clearable
      @update:model-value="(reason_id) => emit('set', { reason_id })"
    />
    <TextField
      :text="state.reason_note"
      :label="t('deals.closing.note')"
      name="reason_note"
      :maxlength="200"
      @change="(reason_note) => emit('set', { reason_note })"
    />
    <TextField
      v-if="deal.outcome === 'lost'"
      :text="state.lost_to"
      :label="t('deals.closing.to')"
      name="lost_to"
      :maxlength="80"
      @change="(lost_to) => emit('set', { lost_to })"
    />
  </ElForm>
</template>

<style scoped>
.closing {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(180px, 1fr));
  gap: 8px 16px;
  margin-bottom: 12px;
  padding-bottom: 12px;
  border-bottom: 1px solid var(--rule);
}
</style>
