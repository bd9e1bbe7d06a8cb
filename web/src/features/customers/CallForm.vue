<script setup lang="ts">
/** What was said on a call: one line, Enter, done. */
import { onMounted, ref, useTemplateRef } from 'vue'
import type { InputInstance } from 'element-plus'
import { t } from '@/words'

defineProps<{ name: string; busy: boolean }>()
const emit = defineEmits<{ note: [said: string] }>()
const said = ref('')
const field = useTemplateRef<InputInstance>('field')
onMounted(() => field.value?.focus())
</script>

<template>
  <ElForm class="call" @submit.prevent="emit('note', said)">
    <ElInput
      ref="field"
      v-model="said"
      size="small"
      maxlength="900"
      :aria-label="t('customers.people.saidBy', { name })"
      :placeholder="t('customers.people.saidBy', { name })"
    />
    <ElButton native-type="submit" size="small" :loading="busy">{{
      t('customers.people.note')
    }}</ElButton>
  </ElForm>
</template>

<style scoped>
.call {
  display: flex;
  gap: 8px;
  padding-bottom: 4px;
}
</style>
