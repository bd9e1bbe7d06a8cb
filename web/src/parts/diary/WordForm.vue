<script setup lang="ts">
/** A word to the colleague who asked: it is done, moved to another day, or handed back. */
import type { InputInstance } from 'element-plus'
import { onMounted, ref, useTemplateRef } from 'vue'
import DayField from '@/kit/form/DayField.vue'
import { t } from '@/words'

defineProps<{ name: string; busy: boolean; due: string | null }>()
const emit = defineEmits<{
  done: [word: string]
  move: [day: string, word: string]
  back: [word: string]
  close: []
}>()
const word = ref('')
const field = useTemplateRef<InputInstance>('field')
onMounted(() => field.value?.focus())
</script>

<template>
  <ElForm class="word" @submit.prevent="emit('done', word)" @keydown.esc.stop="emit('close')">
    <ElInput
      ref="field"
      v-model="word"
      size="small"
      maxlength="200"
      :aria-label="t('diary.wordTo', { name })"
      :placeholder="t('diary.wordTo', { name })"
    />
    <ElButton native-type="submit" type="primary" size="small" :loading="busy">{{
      t('diary.finishAct')
    }}</ElButton>
    <DayField
      class="day"
      :model-value="due"
      :label="t('diary.wordMove')"
      bare
      small
      @update:model-value="(day) => day && day !== due && emit('move', day, word)"
    />
    <ElButton size="small" :disabled="busy" @click="emit('back', word)">{{
      t('diary.handBack')
    }}</ElButton>
  </ElForm>
</template>

<style scoped>
.word {
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
}
.word > :first-child {
  flex: 1 1 200px;
}
.day {
  width: 130px;
  margin: 0;
}
.word .el-button {
  margin: 0;
}
</style>
