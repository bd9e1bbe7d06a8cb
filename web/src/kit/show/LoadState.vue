<script setup lang="ts">
/** What stands in a sheet's place while it loads, or when it cannot. */
import { t } from '@/words'

defineProps<{ error: Error | null; rows?: number }>()
defineEmits<{ again: [] }>()
</script>

<template>
  <div v-if="error" class="card error" role="alert">
    <h2>{{ t('kit.load.failed') }}</h2>
    <p>{{ error.message }}</p>
    <p>
      <ElButton @click="$emit('again')">{{ t('kit.load.again') }}</ElButton>
    </p>
  </div>
  <div v-else class="card" aria-busy="true" :aria-label="t('kit.load.loading')">
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
