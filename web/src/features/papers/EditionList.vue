<script setup lang="ts">
/** The editions of a paper, the newest first, and the way back to each. */
import { moment } from '@/kit/format/format'
import { t } from '@/words'
import type { Edition } from './queries'

defineProps<{ editions: Edition[]; busy: boolean }>()
const emit = defineEmits<{ back: [to: number] }>()
</script>

<template>
  <h2>{{ t('papers.editions.title') }}</h2>
  <ol class="editions">
    <li v-for="(e, n) in editions" :key="e.number">
      <b>{{ e.number || t('papers.editions.shipped') }}</b>
      <span class="soft">
        <template v-if="e.saved_at">{{ moment(e.saved_at) }}, {{ e.saved_by }}</template>
        {{ e.number ? e.remark : '' }}
      </span>
      <span v-if="n === 0" class="soft">{{ t('papers.editions.now') }}</span>
      <ElButton v-else size="small" :disabled="busy" @click="emit('back', e.number)">{{
        t('papers.editions.back')
      }}</ElButton>
    </li>
  </ol>
</template>

<style scoped>
.editions li {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 3px 0;
}
.editions span:first-of-type {
  flex: 1;
}
</style>
