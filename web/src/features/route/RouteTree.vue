<script setup lang="ts">
/** The whole Route as a tree: arrows walk up and down, Left goes to what it comes from, Enter opens. */
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import { useRouter } from 'vue-router'
import { t } from '@/words'
import { treeOf, type Whole } from './chart'
import { wordsOf } from './words'

const props = defineProps<{ whole: Whole }>()
const router = useRouter()
const list = useTemplateRef<HTMLElement>('list')
const branches = computed(() => treeOf(props.whole))
const focused = ref(props.whole.here)
const at = computed(() =>
  Math.max(
    0,
    branches.value.findIndex((b) => b.stop.id === focused.value),
  ),
)
/** Whether one row is the nearest above another that lies less deep. */
function isParent(m: number, n: number, level: number): boolean {
  const between = branches.value.slice(m + 1, n)
  return (branches.value[m]?.level ?? 0) < level && between.every((b) => b.level >= level)
}
function key(event: KeyboardEvent, n: number): void {
  const level = branches.value[n]?.level ?? 1
  const back = branches.value.findIndex((_, m) => m < n && isParent(m, n, level))
  const to = {
    ArrowDown: n + 1,
    ArrowUp: n - 1,
    ArrowRight: n + 1,
    ArrowLeft: back,
    Home: 0,
    End: branches.value.length - 1,
  }[event.key]
  if (event.key === 'Enter') void router.push(branches.value[n]?.stop.to ?? '')
  if (to === undefined || !branches.value[to]) return
  event.preventDefault()
  focused.value = branches.value[to].stop.id
  void nextTick(() => list.value?.querySelectorAll<HTMLElement>('[role=treeitem]')[to]?.focus())
}
</script>

<template>
  <ul ref="list" role="tree" :aria-label="t('route.picture', { title: whole.title })">
    <li
      v-for="({ stop, level, joins }, n) in branches"
      :key="stop.id"
      role="treeitem"
      :aria-level="level"
      :aria-current="stop.id === whole.here ? 'page' : undefined"
      :tabindex="n === at ? 0 : -1"
      :style="{ paddingLeft: `${level * 22}px` }"
      :class="{ here: stop.id === whole.here, late: stop.late || stop.state === 'trouble' }"
      @click="router.push(stop.to)"
      @focus="focused = stop.id"
      @keydown="key($event, n)"
    >
      <span class="dot" :class="{ hollow: stop.open }" aria-hidden="true" />
      {{ wordsOf(stop) }}
      <small v-if="joins.length" class="soft">
        {{ t('route.joins', { names: joins.join(', ') }) }}</small
      >
    </li>
  </ul>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 30px;
  border-bottom: 1px solid var(--rule);
  cursor: pointer;
}
.dot {
  width: 10px;
  height: 10px;
  border-radius: 50%;
  border: 2px solid var(--teal);
  background: var(--teal);
}
.hollow {
  background: var(--sheet);
}
.here {
  font-weight: 700;
}
.late .dot {
  border-color: var(--red);
  background: var(--red);
  border-radius: 2px;
}
</style>
