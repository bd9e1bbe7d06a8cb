<script setup lang="ts">
/** One entry of a day: when, what kind, with whom; ← → moves what is to do. */
import { maybe, t } from '@/words'
import { isDone, type Row } from './days'

const props = defineProps<{ row: Row; chosen: boolean; named: boolean; late: boolean }>()
const emit = defineEmits<{ open: []; move: [days: 1 | -1] }>()
const kind = () => {
  if (props.row.kind === 'follow_up' && props.row.visit) return t('diary.plannedVisit')
  return maybe(`diary.kinds.${props.row.kind}`) ?? props.row.kind
}
const label = () => {
  const { customer, text } = props.row
  const words = t('diary.page.entry', { kind: kind(), customer, what: text })
  return props.row.kind === 'follow_up' && props.row.done_at
    ? `${words}, ${t('diary.page.isDone')}`
    : words
}
function keyed(event: KeyboardEvent): void {
  const days = { ArrowLeft: -1, ArrowRight: 1 }[event.key] as 1 | -1 | undefined
  if (!days || event.altKey || event.ctrlKey || event.metaKey) return
  if (!props.row.settles || isDone(props.row)) return
  event.preventDefault()
  emit('move', days)
}
</script>

<template>
  <button
    class="entry"
    :class="[row.kind, { done: isDone(row), late, chosen, visit: row.visit }]"
    :data-entry="row.id"
    :aria-label="label()"
    :aria-expanded="chosen"
    @click="emit('open')"
    @keydown="keyed"
  >
    <span class="head"
      ><b v-if="row.starts">{{ row.starts }}</b
      ><span>{{ kind() }}</span
      ><span v-if="named" class="who">{{ row.who }}</span></span
    >
    <b class="customer">{{ row.customer }}</b>
    <span class="text">{{ row.text }}</span>
  </button>
</template>

<style scoped>
.entry {
  display: flex;
  flex-direction: column;
  width: 100%;
  margin: 0 0 6px;
  padding: 5px 8px;
  text-align: left;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-left: 4px solid var(--ink-2);
  border-radius: 4px;
  font-size: 13px;
  line-height: 1.3;
}
.entry.follow_up {
  border-left-color: var(--coral);
}
.entry.visit {
  border-left-color: var(--teal);
}
.entry.done {
  background: transparent;
}
.entry.done.follow_up {
  border-left-color: var(--rule);
}
.entry.done.follow_up .text {
  text-decoration: line-through;
}
.entry.late {
  background: var(--red-soft);
  border-left-color: var(--red);
}
.entry.chosen {
  background: var(--amber-soft);
}
.head {
  display: flex;
  gap: 6px;
  color: var(--ink-2);
  font-size: 12px;
}
.head > * {
  white-space: nowrap;
}
.who {
  margin-left: auto;
  overflow: hidden;
  text-overflow: ellipsis;
}
.customer {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.text {
  display: -webkit-box;
  overflow: hidden;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 3;
  line-clamp: 3;
}
.entry:focus-visible {
  outline: 3px solid var(--coral);
  outline-offset: 1px;
}
@media print {
  .text {
    -webkit-line-clamp: none;
    line-clamp: none;
  }
}
</style>
