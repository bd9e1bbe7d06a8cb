<script setup lang="ts">
/** How much of an agreement is called off, as a bar; the line is today, the notch what is due by now. */
import type { Shapes } from '@/api/client'
import { size } from '@/kit/format/format'
import { t } from '@/words'

defineProps<{ row: Shapes['AgreementRow'] }>()
const wide = (percent: string) => `${Math.min(100, size(percent))}%`
</script>

<template>
  <span class="pace">
    <span class="track" aria-hidden="true">
      <i :class="row.state" :style="{ width: wide(row.percent) }" />
      <span class="time" :style="{ left: wide(row.time_percent) }" />
    </span>
    <small :class="['state', row.state]">{{
      t(`customers.agreements.states.${row.state}` as never)
    }}</small>
  </span>
</template>

<style scoped>
.pace {
  display: grid;
  grid-template-columns: minmax(90px, 1fr) 86px;
  gap: 8px;
  align-items: center;
}
.track {
  position: relative;
  height: 9px;
  background: var(--paper);
}
.track i {
  display: block;
  height: 100%;
  background: var(--teal);
}
.track i.behind {
  background: var(--amber);
}
.time {
  position: absolute;
  top: -3px;
  bottom: -3px;
  border-left: 2px solid var(--ink);
}
.state {
  font-weight: 700;
}
.state.behind {
  color: var(--amber-ink);
}
</style>
