<script setup lang="ts">
/** A button for what cannot be taken back: it asks once more, in its own place. */
import { nextTick, ref, useTemplateRef } from 'vue'
import { t } from '@/words'

defineProps<{
  label: string
  question: string
  act: string
  leave?: string
  disabled?: boolean
  large?: boolean
}>()
const emit = defineEmits<{ ask: []; go: [] }>()
const asking = ref(false)
const first = useTemplateRef('first')
const again = useTemplateRef('again')

function ask(): void {
  asking.value = true
  emit('ask')
  void nextTick(() => again.value?.ref?.focus())
}
function shut(): void {
  asking.value = false
  void nextTick(() => first.value?.ref?.focus())
}
function go(): void {
  asking.value = false
  emit('go')
}
</script>

<template>
  <span v-if="asking" class="sure" role="alert" @keydown.esc.prevent.stop="shut">
    {{ question }}
    <ElButton ref="again" size="small" type="danger" :disabled="disabled" @click="go">{{
      act
    }}</ElButton>
    <ElButton size="small" @click="shut">{{ leave ?? t('kit.step.keepIt') }}</ElButton>
  </span>
  <ElButton
    v-else
    ref="first"
    text
    :size="large ? undefined : 'small'"
    :disabled="disabled"
    @click="ask"
    >{{ label }}</ElButton
  >
</template>

<style scoped>
.sure {
  margin-left: 8px;
  display: inline-flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  color: inherit;
}
</style>
