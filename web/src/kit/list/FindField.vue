<script setup lang="ts">
/** Words to find by; taken in by Enter, when the field is left, or when it is emptied. */
import { ref, watch } from 'vue'

const words = defineModel<string>({ required: true })
defineProps<{ label: string }>()
const typed = ref(words.value)
watch(words, (now) => (typed.value = now))
function take(): void {
  if (typed.value !== words.value) words.value = typed.value
}
</script>

<template>
  <ElInput
    v-model="typed"
    class="find"
    type="search"
    size="small"
    clearable
    :aria-label="label"
    :placeholder="label"
    @change="take"
    @clear="take"
  />
</template>

<style scoped>
.find {
  width: 250px;
}
</style>
