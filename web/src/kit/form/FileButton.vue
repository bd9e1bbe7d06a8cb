<script setup lang="ts">
/** A button that takes a file, chosen or dropped on it. */
import type { UploadRawFile } from 'element-plus'

defineProps<{ label: string; accept: string; disabled?: boolean; primary?: boolean }>()
const emit = defineEmits<{ file: [file: File] }>()
/** Taken over here; nothing is sent by the button itself. */
function take(file: UploadRawFile): false {
  emit('file', file)
  return false
}
</script>

<template>
  <ElUpload
    class="file-button"
    :accept="accept"
    :show-file-list="false"
    :before-upload="take"
    :disabled="disabled"
    drag
  >
    <!-- The frame around it is the button that takes keys. -->
    <ElButton
      tag="span"
      :type="primary ? 'primary' : undefined"
      size="small"
      :disabled="disabled"
      >{{ label }}</ElButton
    >
  </ElUpload>
</template>

<style scoped>
.file-button :deep(.el-upload-dragger) {
  border: 0;
  padding: 0;
  background: none;
}
.file-button :deep(.is-dragover) {
  outline: 2px dashed var(--coral);
  outline-offset: 3px;
}
</style>
