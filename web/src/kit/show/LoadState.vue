<script setup lang="ts">
/** What stands in a sheet's place while it loads, or when it cannot. */
import { computed } from 'vue'
import { Fault } from '@/api/fault'
import { t } from '@/words'

const props = defineProps<{ error: Error | null; rows?: number }>()
defineEmits<{ again: [] }>()
/** Not there, or not for this person: asking again would not help. */
const final = computed(
  () => props.error instanceof Fault && [403, 404].includes(props.error.status),
)
</script>

<template>
  <div v-if="error" class="card error" role="alert">
    <h2>{{ t('kit.load.failed') }}</h2>
    <p>{{ error.message }}</p>
    <p>
      <RouterLink v-if="final" to="/">{{ t('kit.load.home') }}</RouterLink>
      <ElButton v-else @click="$emit('again')">{{ t('kit.load.again') }}</ElButton>
    </p>
  </div>
  <div v-else class="card" role="group" aria-busy="true" :aria-label="t('kit.load.loading')">
    <div
      v-for="n in rows ?? 6"
      :key="n"
      class="line"
      :style="{ width: `${96 - ((n * 17) % 40)}%` }"
    />
  </div>
</template>

<style scoped>
.error p {
  margin-top: 6px;
}
.line {
  height: 12px;
  margin: 9px 0;
  border-radius: 6px;
  background: var(--rule);
  animation: breathe 1.4s ease-in-out infinite alternate;
}
@keyframes breathe {
  to {
    opacity: 0.4;
  }
}
</style>
