<script setup lang="ts">
/** One of a few states, side by side. */
import { computed } from 'vue'

const chosen = defineModel<string>({ required: true })
const props = defineProps<{ choices: { value: string; label: string }[]; label: string }>()
const options = computed(() => props.choices.map(({ value, label }) => ({ value, label })))
</script>

<template>
  <ElSegmented v-model="chosen" :options="options" :aria-label="label" size="small" />
</template>
