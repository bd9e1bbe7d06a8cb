<script setup lang="ts">
/** The layout itself, for those who write it. */
import { ref } from 'vue'
import { t } from '@/words'

const source = defineModel<string>({ required: true })
defineProps<{ shipped: string }>()
const open = ref(source.value !== '')
</script>

<template>
  <ElButton text size="small" :aria-expanded="open" @click="open = !open">{{
    t('papers.layout.title')
  }}</ElButton>
  <template v-if="open">
    <p class="soft">
      {{ t('papers.layout.hint') }}
      <ElButton v-if="!source" size="small" @click="source = shipped">{{
        t('papers.layout.start')
      }}</ElButton>
      <ElButton v-else size="small" @click="source = ''">{{ t('papers.layout.shipped') }}</ElButton>
    </p>
    <ElInput
      v-if="source"
      v-model="source"
      type="textarea"
      class="source"
      :rows="18"
      spellcheck="false"
      :aria-label="t('papers.layout.label')"
    />
  </template>
</template>

<style scoped>
.source :deep(textarea) {
  font-family: ui-monospace, monospace;
  font-size: 12px;
  white-space: pre;
}
</style>
