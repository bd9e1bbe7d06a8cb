<script setup lang="ts">
/** A button for what cannot be taken back: it asks once more, in its own place. */
import { onKeyStroke } from '@vueuse/core'
import { nextTick, ref } from 'vue'

withDefaults(
  defineProps<{
    label: string
    question: string
    act: string
    leave?: string
    disabled?: boolean
    large?: boolean
  }>(),
  { leave: 'Keep it' },
)
const emit = defineEmits<{ ask: []; go: [] }>()
const asking = ref(false)
const first = ref<HTMLButtonElement>()
const again = ref<HTMLButtonElement>()

function ask(): void {
  asking.value = true
  emit('ask')
  void nextTick(() => again.value?.focus())
}
function shut(): void {
  asking.value = false
  void nextTick(() => first.value?.focus())
}
function go(): void {
  asking.value = false
  emit('go')
}
onKeyStroke('Escape', () => asking.value && shut())
</script>

<template>
  <span v-if="asking" class="sure" role="alert">
    {{ question }}
    <button ref="again" type="button" class="btn small grave" :disabled="disabled" @click="go">
      {{ act }}
    </button>
    <button type="button" class="btn small" @click="shut">{{ leave }}</button>
  </span>
  <button
    v-else
    ref="first"
    type="button"
    class="btn quiet"
    :class="{ small: !large }"
    :disabled="disabled"
    @click="ask"
  >
    {{ label }}
  </button>
</template>

<style scoped>
.sure {
  margin-left: 8px;
  display: inline-flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  color: var(--ink);
}
.grave {
  border-color: var(--red);
  color: var(--red);
}
</style>
