<script setup lang="ts">
/** A column heading that sorts, both ways. */
import { computed } from 'vue'

const sort = defineModel<string>({ required: true })
const props = defineProps<{ field: string; numeric?: boolean }>()
const state = computed(() =>
  sort.value === props.field
    ? 'ascending'
    : sort.value === `-${props.field}`
      ? 'descending'
      : 'none',
)
</script>

<template>
  <th :class="{ num: numeric }" :aria-sort="state">
    <button @click="sort = state === 'ascending' ? `-${field}` : field">
      <slot /><span aria-hidden="true">{{
        state === 'ascending' ? ' ↑' : state === 'descending' ? ' ↓' : ''
      }}</span>
    </button>
  </th>
</template>

<style scoped>
button {
  border: 0;
  background: none;
  padding: 0;
  font: inherit;
  color: inherit;
  cursor: pointer;
}
</style>
