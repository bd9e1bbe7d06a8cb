<script setup lang="ts">
/** Files that will lie with what is being noted. */
import { useTemplateRef } from 'vue'
import { say } from '@/kit/act/notices'
import { MOST_BYTES, sizeOf } from '@/parts/files/files'
import { t } from '@/words'

const files = defineModel<File[]>({ required: true })
const choose = useTemplateRef('choose')
const MEGA = 1_000_000
function chosen(event: Event): void {
  const input = event.target as HTMLInputElement
  const found = [...(input.files ?? [])]
  input.value = ''
  for (const { name } of found.filter(({ size }) => size > MOST_BYTES))
    say(t('files.tooLarge', { name, most: MOST_BYTES / MEGA }))
  files.value = [...files.value, ...found.filter(({ size }) => size <= MOST_BYTES)]
}
const leave = (file: File) => (files.value = files.value.filter((each) => each !== file))
</script>

<template>
  <span class="attach">
    <input ref="choose" type="file" multiple hidden @change="chosen" />
    <ElButton size="small" @click="choose?.click()">{{ t('diary.attach') }}</ElButton>
    <span v-for="file in files" :key="`${file.name} ${file.size}`" class="file">
      {{ file.name }} <small class="soft">{{ sizeOf(file.size) }}</small>
      <ElButton
        text
        size="small"
        :aria-label="t('diary.leaveOut', { name: file.name })"
        @click="leave(file)"
        >✕</ElButton
      >
    </span>
  </span>
</template>

<style scoped>
.attach {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  align-items: center;
}
.file {
  overflow-wrap: anywhere;
}
</style>
