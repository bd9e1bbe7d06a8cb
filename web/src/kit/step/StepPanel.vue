<script setup lang="ts">
/**
 * The panel that opens above the sum bar for a step. The focus goes into it and comes back; Esc
 * leaves it; it scrolls where the screen is small; what goes wrong is told in it.
 */
import { onKeyStroke } from '@vueuse/core'
import { onMounted, onUnmounted, useTemplateRef } from 'vue'
import { useToldHere } from '@/kit/act/notices'
import { t } from '@/words'

defineProps<{ title: string; leave?: string }>()
const emit = defineEmits<{ close: []; go: [] }>()
const panel = useTemplateRef<HTMLElement>('panel')
const before = document.activeElement
const told = useToldHere()
function tryAgain(): void {
  const again = told.value?.again
  told.value = null
  again?.()
}
onKeyStroke('Escape', (event) => {
  if (event.defaultPrevented) return
  event.preventDefault()
  emit('close')
})
const FIELDS = 'input:not([type=hidden]):not([readonly]), select, textarea, [role=combobox], button'
onMounted(() => panel.value?.querySelector<HTMLElement>(FIELDS)?.focus())
onUnmounted(() => {
  if (before instanceof HTMLElement && before.isConnected) before.focus()
})
</script>

<template>
  <div ref="panel" class="panel">
    <ElForm label-position="top" class="step-form" :aria-label="title" @submit.prevent="emit('go')">
      <h2>{{ title }}</h2>
      <p v-if="told" class="told" role="alert">
        {{ told.words }}
        <ElButton v-if="told.again" text @click="tryAgain">{{ t('kit.load.again') }}</ElButton>
      </p>
      <slot />
      <ElButton text @click="emit('close')">{{ leave ?? t('kit.step.notYet') }}</ElButton>
    </ElForm>
  </div>
</template>

<style scoped>
.panel {
  position: fixed;
  right: var(--gutter);
  left: var(--gutter);
  bottom: var(--bar-height);
  z-index: 19;
  max-height: calc(100vh - var(--bar-height) - 70px);
  overflow: auto;
  background: var(--sheet);
  border: 2px solid var(--ink);
  border-bottom: 0;
  border-radius: 8px 8px 0 0;
  padding: 14px 20px 18px;
}
.step-form {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 18px;
  align-items: end;
}
h2 {
  flex-basis: 100%;
  font-size: 17px;
}
.told {
  flex-basis: 100%;
  border-left: 6px solid var(--red);
  padding-left: 10px;
  font-weight: 600;
}
.step-form > :deep(.el-form-item) {
  min-width: 150px;
}
</style>
