<script setup lang="ts">
/** The files of a record as a card of its page. */
import { t } from '@/words'
import FilesList from './FilesList.vue'
import type { Kind } from './files'

defineProps<{ kind: Kind; record: number; may: boolean; paper?: boolean }>()
</script>

<template>
  <section class="card" :aria-label="t('files.title')">
    <header>
      <h2>{{ t('files.title') }}</h2>
      <span class="soft">{{ t('files.hint') }}</span>
    </header>
    <FilesList :kind="kind" :record="record" :may="may" :paper="paper" />
  </section>
</template>

<style scoped>
header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  margin-bottom: 6px;
}
</style>
