<script setup lang="ts">
/** In a page's place: the application starts, or cannot, or the page broke. */
import { t } from '@/words'

defineProps<{ title: string; hint: string; reload?: boolean }>()
defineEmits<{ again: [] }>()
const load = () => window.location.reload()
</script>

<template>
  <div class="page">
    <div v-if="title" class="card" role="alert">
      <h1>{{ title }}</h1>
      <p>{{ hint }}</p>
      <p>
        <ElButton @click="$emit('again')">{{ t('app.broken.again') }}</ElButton>
        <ElButton v-if="reload" @click="load">{{ t('app.broken.reload') }}</ElButton>
      </p>
    </div>
    <p v-else class="soft" aria-busy="true">{{ t('kit.load.loading') }}…</p>
  </div>
</template>

<style scoped>
.card p {
  margin-top: 8px;
}
</style>
