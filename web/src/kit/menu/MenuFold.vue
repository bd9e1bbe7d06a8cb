<script setup lang="ts">
/** A menu that opens at its button and closes on a click elsewhere or Escape. */
import { onClickOutside } from '@vueuse/core'
import { ref } from 'vue'

withDefaults(defineProps<{ label: string; up?: boolean; stays?: boolean }>(), {
  up: false,
  stays: false,
})
const menu = ref<HTMLDetailsElement>()
function shut(): void {
  menu.value?.removeAttribute('open')
}
onClickOutside(menu, shut)
defineExpose({ shut })
</script>

<template>
  <details ref="menu" class="menu" :class="{ up }" @keydown.esc.stop="shut">
    <summary class="btn quiet" :class="{ small: !up }">{{ label }}</summary>
    <div class="sheet" @click="stays || shut()"><slot /></div>
  </details>
</template>

<style scoped>
.menu {
  position: relative;
}
summary {
  list-style: none;
}
.sheet {
  position: absolute;
  right: 0;
  top: calc(100% + 4px);
  z-index: 20;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--ink);
  border-radius: var(--radius);
  padding: 4px;
  min-width: 230px;
}
.up .sheet {
  top: auto;
  bottom: 40px;
}
.sheet :deep(li > :is(button, a, label)) {
  display: block;
  width: 100%;
  text-align: left;
  border: 0;
  background: none;
  padding: 6px 10px;
  text-decoration: none;
  cursor: pointer;
}
.sheet :deep(li > :is(button, a, label):hover) {
  background: var(--amber-soft);
}
</style>
