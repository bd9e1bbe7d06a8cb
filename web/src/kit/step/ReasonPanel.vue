<script setup lang="ts">
/** A step that asks for its reason. */
import { ref } from 'vue'
import StepPanel from './StepPanel.vue'

defineProps<{ title: string; act: string; label: string; busy: boolean }>()
const emit = defineEmits<{ go: [reason: string]; close: [] }>()
const reason = ref('')
</script>

<template>
  <StepPanel :title="title" @close="emit('close')" @go="reason.trim() && emit('go', reason)">
    <ElFormItem :label="label" class="why">
      <ElInput v-model="reason" name="reason" maxlength="200" required />
    </ElFormItem>
    <ElButton type="primary" native-type="submit" :loading="busy">{{ act }}</ElButton>
  </StepPanel>
</template>

<style scoped>
.why {
  flex: 1 1 340px;
}
</style>
