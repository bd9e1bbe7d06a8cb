<script setup lang="ts">
/** A step that asks for its reason. */
import { ref } from 'vue'
import StepPanel from './StepPanel.vue'

defineProps<{ title: string; act: string; label: string; busy: boolean }>()
defineEmits<{ go: [reason: string]; close: [] }>()
const reason = ref('')
</script>

<template>
  <StepPanel :title="title" @close="$emit('close')" @go="$emit('go', reason)">
    <label class="field why"
      ><span>{{ label }}</span>
      <input v-model="reason" class="input" name="reason" maxlength="200" required
    /></label>
    <button class="btn act" :disabled="busy">{{ act }}</button>
  </StepPanel>
</template>

<style scoped>
.why {
  flex: 1 1 340px;
}
</style>
