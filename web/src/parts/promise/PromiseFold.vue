<script setup lang="ts">
/** Why a line is promised so, from where and by when it is wanted, and what else could be done. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import { t } from '@/words'
import type { LinePromise, Proposal } from './usePromises'
import { ageOf, proposalOf, reasonOf } from './words'

const props = defineProps<{
  promise: LinePromise
  depots: Shapes['DepotOut'][]
  wanted: string | null
  item: number
  customer: number
  editable: boolean
}>()
const emit = defineEmits<{
  take: [proposal: Proposal]
  depot: [id: number]
  wanted: [day: string | null]
}>()
const choices = computed(() => props.depots.map(({ id, name }) => ({ value: id, label: name })))
</script>

<template>
  <div class="fold promise">
    <p class="why">
      {{ reasonOf(promise) }}
      <b v-if="promise.late" class="late">{{ t('promise.late') }}</b>
      <span class="soft" :class="{ late: promise.stale }">{{
        t('promise.age', { age: ageOf(promise.minutes) })
      }}</span>
      <RouterLink :to="`/items/${item}?customer=${customer}`">{{ t('promise.item') }}</RouterLink>
    </p>
    <template v-if="editable">
      <ElButton
        v-for="(each, n) in promise.proposals"
        :key="n"
        class="take"
        @click="emit('take', each)"
        >{{ proposalOf(each) }}</ElButton
      >
      <span class="where">
        <ChoiceField
          :model-value="promise.depot_id"
          :choices="choices"
          :label="t('promise.depot')"
          bare
          small
          @update:model-value="(id) => id && emit('depot', id)"
        />
        <DayField
          :model-value="wanted"
          :label="t('promise.wanted')"
          :placeholder="t('promise.wanted')"
          bare
          clearable
          small
          @update:model-value="(day) => emit('wanted', day)"
        />
      </span>
    </template>
  </div>
</template>

<style scoped>
.promise {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 12px;
  padding: 7px 14px 9px var(--trail-in, 14px);
  border-top: 1px dashed var(--rule);
}
.why {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
}
.take {
  border-color: var(--teal);
  color: var(--teal);
  border-radius: var(--radius);
  background: var(--sheet);
}
.where {
  display: flex;
  gap: 8px;
  margin-left: auto;
}
.where > * {
  width: 150px;
  margin: 0;
}
</style>
