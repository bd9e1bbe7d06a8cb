<script setup lang="ts">
/** Where a part of a line comes from, when it is wanted, where it goes; and dividing the line. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import { todayIso } from '@/kit/format/format'
import { t } from '@/words'
import type { Split } from './splits'

const props = defineProps<{
  typed: Split
  split: number
  depots: Shapes['DepotOut'][]
  places: Shapes['AddressChoice'][]
}>()
const emit = defineEmits<{ type: [given: Partial<Split>]; divide: []; join: [] }>()
const depot = computed({
  get: () => props.typed.depot ?? 0,
  set: (now) => emit('type', { depot: now || null }),
})
const wanted = computed({
  get: () => props.typed.day,
  set: (now) => emit('type', { day: now }),
})
const place = computed({
  get: () => props.typed.place ?? 0,
  set: (now) => emit('type', { place: now || null }),
})
const depots = computed(() => [
  { value: 0, label: t('orders.new.usualDepot') },
  ...props.depots.map(({ id, name }) => ({ value: id, label: name })),
])
const places = computed(() => [
  { value: 0, label: t('orders.new.placeOfOrder') },
  ...props.places.map(({ id, label }) => ({ value: id, label })),
])
</script>

<template>
  <ElForm class="fields" label-position="top" @submit.prevent>
    <ChoiceField
      v-model="depot"
      :style="{ width: '250px' }"
      :choices="depots"
      :label="t('orders.new.from')"
      name="depot"
    />
    <DayField
      v-model="wanted"
      :label="t('desk.accept.wanted')"
      :from="todayIso()"
      name="day"
      clearable
    />
    <ChoiceField
      v-model="place"
      :style="{ width: '280px' }"
      :choices="places"
      :label="t('desk.accept.deliverTo')"
      name="place"
    />
    <ElButton v-if="split" @click="emit('join')">{{ t('orders.new.join') }}</ElButton>
    <ElButton v-else @click="emit('divide')">{{ t('orders.new.divide') }}</ElButton>
  </ElForm>
</template>

<style scoped>
.fields {
  display: flex;
  gap: 6px 14px;
  align-items: center;
  flex-wrap: wrap;
}
.fields > .el-button {
  margin-top: 6px;
}
</style>
