<script setup lang="ts">
/** A visit on the day's line: what for, where to go, whom to ask for; Alt ↑ ↓ moves it. */
import type { Shapes } from '@/api/client'
import { t } from '@/words'

defineProps<{ visit: Shapes['PlannedVisit']; first: boolean; last: boolean; busy: boolean }>()
const emit = defineEmits<{ move: [by: 1 | -1]; finish: [] }>()
function keyed(event: KeyboardEvent): void {
  const by = { ArrowUp: -1, ArrowDown: 1 }[event.key] as 1 | -1 | undefined
  if (!event.altKey || !by) return
  event.preventDefault()
  emit('move', by)
}
</script>

<template>
  <li
    :data-visit="visit.id"
    tabindex="-1"
    :class="{ done: visit.done, first, last }"
    @keydown="keyed"
  >
    <span class="ring" aria-hidden="true" />
    <span class="what">
      <RouterLink v-if="visit.customer_id" :to="`/customers/${visit.customer_id}`"
        ><b>{{ visit.customer }}</b></RouterLink
      >
      <b v-else>{{ visit.customer }}</b>
      <b v-if="visit.starts" class="at">{{ visit.starts }}</b> {{ visit.text }}
      <RouterLink v-if="visit.deal_id" :to="`/deals/${visit.deal_id}`">{{ visit.deal }}</RouterLink>
      <template v-else>{{ visit.deal }}</template>
    </span>
    <span class="where">
      <template v-if="visit.where">{{ visit.where }}</template>
      <template v-else-if="visit.street">{{ visit.street }}<br />{{ visit.town }}</template>
      <span v-else class="late">{{ t('today.visits.noAddress') }}</span>
    </span>
    <span class="whom">
      <template v-if="visit.person"
        >{{ t('today.visits.ask', { name: visit.person }) }}<br
      /></template>
      <a v-if="visit.phone" :href="`tel:${visit.phone.replace(/ /g, '')}`">{{ visit.phone }}</a>
    </span>
    <span class="acts on-screen">
      <ElButton
        size="small"
        :disabled="first || busy"
        :aria-label="t('today.visits.up', { customer: visit.customer })"
        @click="emit('move', -1)"
        >↑</ElButton
      >
      <ElButton
        size="small"
        :disabled="last || busy"
        :aria-label="t('today.visits.down', { customer: visit.customer })"
        @click="emit('move', 1)"
        >↓</ElButton
      >
      <ElButton
        v-if="!visit.done"
        size="small"
        :disabled="busy"
        :aria-label="t('today.visits.done', { customer: visit.customer })"
        @click="emit('finish')"
        >{{ t('diary.finishAct') }}</ElButton
      >
    </span>
  </li>
</template>

<style scoped>
li {
  position: relative;
  display: grid;
  grid-template-columns: 22px minmax(0, 1.4fr) minmax(0, 1fr) minmax(0, 1fr) auto;
  gap: 12px;
  align-items: center;
  min-height: 56px;
  padding: 6px 0;
}
li::before {
  content: '';
  position: absolute;
  left: 8px;
  top: 0;
  bottom: 0;
  width: 3px;
  background: var(--ink);
}
.first::before {
  top: 50%;
}
.last::before {
  bottom: 50%;
}
.first.last::before {
  display: none;
}
.ring {
  position: relative;
  width: 18px;
  height: 18px;
  border: 4px solid var(--ink);
  border-radius: 50%;
  background: var(--sheet);
}
.done .ring {
  border-color: var(--teal);
  background: var(--teal);
}
.done .what {
  color: var(--ink-2);
}
.at {
  margin-left: 8px;
}
.where,
.whom {
  font-size: 13px;
  line-height: 1.45;
}
.acts {
  display: flex;
  gap: 6px;
}
.acts .el-button {
  margin: 0;
}
@media (max-width: 820px) {
  li {
    grid-template-columns: 22px 1fr;
  }
  .where,
  .whom,
  .acts {
    grid-column: 2;
  }
}
</style>
