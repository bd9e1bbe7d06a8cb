<script setup lang="ts">
/** One line below the places: figures are stale, or a newer version waits. */
import { computed, ref } from 'vue'
import { staleSince } from '@/kit/act/connection'
import { clock } from '@/kit/format/format'
import { t } from '@/words'
import { newerBuild } from '@/app/build'

const later = ref(false)
const stale = computed(() =>
  staleSince.value === null
    ? ''
    : t('app.news.stale', { time: clock(new Date(staleSince.value).toISOString()) }),
)
const load = () => window.location.reload()
</script>

<template>
  <div class="news" role="status">
    <p v-if="stale" class="line stale">{{ stale }}</p>
    <p v-else-if="newerBuild && !later" class="line">
      {{ t('app.news.version') }}
      <ElButton size="small" @click="load">{{ t('app.news.load') }}</ElButton>
      <ElButton size="small" text @click="later = true">{{ t('app.news.later') }}</ElButton>
    </p>
  </div>
</template>

<style scoped>
.line {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 5px var(--gutter);
  background: var(--amber-soft);
  border-bottom: 1px solid var(--rule);
}
.stale {
  font-weight: 600;
}
</style>
