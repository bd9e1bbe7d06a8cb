<script setup lang="ts">
/** A button that opens a small sheet with fields; it stays open while they are used. */
import { ref } from 'vue'

defineProps<{ label: string; small?: boolean }>()
const open = ref(false)
defineExpose({ shut: () => (open.value = false) })
</script>

<template>
  <ElPopover v-model:visible="open" trigger="click" placement="bottom-end" width="auto">
    <template #reference>
      <ElButton text :size="small ? 'small' : undefined" :aria-expanded="open">{{
        label
      }}</ElButton>
    </template>
    <div class="popup" @keydown.esc.stop="open = false"><slot /></div>
  </ElPopover>
</template>

<style scoped>
.popup {
  min-width: 210px;
}
</style>
