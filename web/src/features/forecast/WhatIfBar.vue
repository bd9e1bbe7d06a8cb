<script setup lang="ts">
/** That somebody thinks of deals otherwise: kept on a word, with the reason where a chance is another; or taken back. */
import { computed, ref } from 'vue'
import { t, tn } from '@/words'
import type { WhatIf } from './useWhatIf'

const props = defineProps<{ whatIf: WhatIf }>()
const asking = ref(false)
const { count, changes, asksWhy, why, busy } = props.whatIf
const onlyThought = computed(() => changes.value.length < count.value)
const ready = computed(
  () => changes.value.length > 0 && (!asksWhy.value || why.value.trim() !== ''),
)
async function keep(): Promise<void> {
  if (ready.value && (await props.whatIf.keep())) asking.value = false
}
</script>

<template>
  <form class="bar" @submit.prevent="keep" @keydown.esc="asking = false">
    <b>{{ tn('forecast.deciding.thinking', count) }}</b>
    <span class="acts">
      <ElButton size="small" @click="whatIf.clear()">{{ t('forecast.deciding.back') }}</ElButton>
      <ElButton v-if="!asking" size="small" :disabled="!changes.length" @click="asking = true">{{
        t('forecast.deciding.keep')
      }}</ElButton>
    </span>
    <template v-if="asking">
      <ElInput
        v-if="asksWhy"
        v-model="why"
        class="why"
        size="small"
        maxlength="200"
        :placeholder="t('forecast.deciding.why')"
        :aria-label="t('forecast.deciding.why')"
      />
      <ElButton
        type="primary"
        size="small"
        native-type="submit"
        :loading="busy"
        :disabled="!ready"
        >{{ tn('forecast.deciding.keepNow', changes.length) }}</ElButton
      >
      <span v-if="onlyThought" class="soft">{{ t('forecast.deciding.onlyThought') }}</span>
    </template>
  </form>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
  margin: 8px 0 0;
  padding: 8px 12px;
  border-left: 4px solid var(--amber);
  background: var(--amber-soft);
}
.acts {
  display: flex;
  gap: 6px;
}
.acts .el-button {
  margin: 0;
}
.why {
  width: 280px;
}
</style>
