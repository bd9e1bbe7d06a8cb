<script setup lang="ts">
/** A real quote on the paper as it is typed. */
import type { Fault } from '@/api/fault'
import { t } from '@/words'

defineProps<{ pages: string[]; busy: boolean; fault: Fault | null }>()
</script>

<template>
  <section class="sheet" :aria-label="t('papers.preview')" :aria-busy="busy">
    <img
      v-for="(page, n) in pages"
      :key="n"
      :src="`data:image/png;base64,${page}`"
      :alt="t('papers.page', { n: n + 1 })"
    />
    <p v-if="!pages.length" class="soft">{{ fault?.message ?? t('papers.setting') }}</p>
  </section>
</template>

<style scoped>
.sheet {
  position: sticky;
  top: 10px;
  max-height: calc(100vh - 90px);
  overflow: auto;
  border: 1px solid var(--rule);
  background: var(--rule);
}
.sheet img {
  display: block;
  width: 100%;
  margin-bottom: 6px;
}
.sheet[aria-busy='true'] {
  opacity: 0.7;
}
p {
  padding: 12px;
}
@media (max-width: 900px) {
  .sheet {
    position: static;
    max-height: none;
  }
}
</style>
