<script setup lang="ts">
/** The panel that opens above the sum bar for a step that cannot be taken back. */
import { onKeyStroke } from '@vueuse/core'
import { onMounted, ref } from 'vue'

withDefaults(defineProps<{ title: string; leave?: string }>(), { leave: 'Not yet' })
const emit = defineEmits<{ close: []; go: [] }>()
const form = ref<HTMLFormElement>()
onKeyStroke('Escape', () => emit('close'))
onMounted(() => form.value?.querySelector<HTMLElement>('input, select, button')?.focus())
</script>

<template>
  <form ref="form" class="panel" :aria-label="title" @submit.prevent="emit('go')">
    <h2>{{ title }}</h2>
    <slot />
    <button type="button" class="btn quiet" @click="emit('close')">{{ leave }}</button>
  </form>
</template>

<style scoped>
.panel {
  position: fixed;
  right: var(--gutter);
  left: var(--gutter);
  bottom: var(--bar-height);
  z-index: 19;
  background: var(--sheet);
  border: 2px solid var(--ink);
  border-bottom: 0;
  border-radius: 8px 8px 0 0;
  padding: 14px 20px 18px;
  display: flex;
  flex-wrap: wrap;
  gap: 10px 18px;
  align-items: end;
}
h2 {
  flex-basis: 100%;
  font-size: 17px;
}
</style>
