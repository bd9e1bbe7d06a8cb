<script setup lang="ts">
/** From a day, to a day; each may stay open. */
import DayField from '@/kit/form/DayField.vue'
import { t } from '@/words'

const since = defineModel<string>('since', { required: true })
const until = defineModel<string>('until', { required: true })
const ends = { since, until }
</script>

<template>
  <DayField
    v-for="end in ['since', 'until'] as const"
    :key="end"
    class="day"
    :model-value="ends[end].value || null"
    :label="t(`list.${end}`)"
    :placeholder="t(`list.${end}`)"
    bare
    small
    clearable
    behind
    @update:model-value="(picked) => (ends[end].value = picked ?? '')"
  />
</template>

<style scoped>
.day {
  width: 120px;
  margin: 0;
}
</style>
