<script setup lang="ts">
/** The checks: one strip of verdicts; each opens downward into its reasons. */
import { t } from '@/words'
import VerdictMark from './VerdictMark.vue'

export interface Check {
  key: string
  verdict: 'clear' | 'caution' | 'halt' | 'none'
  word: string
  detail: string
}
defineProps<{ checks: Check[] }>()
/** The key of the check whose reasons are shown. */
const open = defineModel<string>('open', { default: '' })
</script>

<template>
  <section class="strip" :aria-label="t('kit.checks')">
    <button
      v-for="check in checks"
      :key="check.key"
      class="check"
      :class="check.verdict"
      :aria-expanded="open === check.key"
      @click="open = open === check.key ? '' : check.key"
    >
      <VerdictMark :verdict="check.verdict" />
      <span
        ><b>{{ check.word }}</b
        ><small>{{ check.detail }}</small></span
      >
    </button>
    <div v-if="open" class="fold reasons"><slot :name="open" /></div>
  </section>
</template>

<style scoped>
.strip {
  display: flex;
  flex-wrap: wrap;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: var(--radius);
  overflow: hidden;
}
.check {
  flex: 1 1 180px;
  display: flex;
  gap: 9px;
  align-items: center;
  padding: 5px 12px;
  border: 0;
  background: none;
  text-align: left;
  cursor: pointer;
  border-left: 1px dashed var(--rule);
}
.check:first-child {
  border-left: 0;
}
.check:focus-visible {
  outline-offset: -3px;
}
.check.caution {
  background: var(--amber-soft);
}
.check.halt {
  background: var(--red-soft);
}
.check b {
  display: block;
  font-size: 14px;
  line-height: 1.25;
}
.check small {
  font-size: 12px;
  color: var(--ink-2);
}
.reasons {
  flex-basis: 100%;
  border-top: 1px solid var(--rule);
}
</style>
