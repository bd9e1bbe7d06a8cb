<script setup lang="ts">
/** The items that the typed letters find, below the editor, or above it near the foot. */
import { computed, nextTick, onMounted, ref, useTemplateRef } from 'vue'
import { t } from '@/words'
import type { useItemSearch } from './useItemSearch'

const props = defineProps<{ search: ReturnType<typeof useItemSearch> }>()
const box = useTemplateRef('box')
const up = ref(false)
/** How much room the list takes at most, and the sum bar with it. */
const ROOM_PX = 420
/** How far it stands off the window's edge. */
const EDGE_PX = 8
/** How far it moves to the left, so that it ends within the window. */
const aside = ref(0)
onMounted(async () => {
  await nextTick() // the editor around it goes to its cell first
  const top = box.value?.parentElement?.getBoundingClientRect().bottom ?? 0
  const right = box.value?.getBoundingClientRect().right ?? 0
  aside.value = Math.max(0, right + EDGE_PX - document.documentElement.clientWidth)
  up.value = top > window.innerHeight - ROOM_PX && top > ROOM_PX
})
const note = computed(() => {
  if (props.search.error.value) return props.search.error.value.message
  if (!props.search.settled.value) return t('desk.items.looking')
  return props.search.hits.value.length ? '' : t('desk.items.none')
})
</script>

<template>
  <div ref="box" class="hits" :class="{ up }" :style="{ marginLeft: `${-aside}px` }">
    <ul
      id="item-hits"
      role="listbox"
      :aria-label="t('desk.items.label')"
      aria-multiselectable="true"
    >
      <li
        v-for="(hit, n) in search.hits.value"
        :id="`item-hit-${n}`"
        :key="hit.id"
        role="option"
        :aria-selected="n === search.at.value || search.isMarked(hit)"
        :class="{ at: n === search.at.value }"
        @mousedown.prevent="$event.ctrlKey || $event.shiftKey ? search.mark(hit) : search.add(hit)"
        @mousemove="search.point(n)"
      >
        <span class="soft">{{ search.isMarked(hit) ? '✓ ' : '' }}{{ hit.code }}</span>
        <b>{{ hit.name }}</b>
        <span class="soft">{{ hit.group }}</span>
      </li>
    </ul>
    <p v-if="note" class="note" :class="{ fault: search.error.value }" role="status">{{ note }}</p>
    <p v-else class="note tip">
      {{
        search.marked.value.length
          ? t('desk.items.marked', { codes: search.marked.value.map((row) => row.code).join(', ') })
          : t('desk.items.markHint')
      }}
    </p>
  </div>
</template>

<style scoped>
.hits {
  position: absolute;
  top: 100%;
  left: 0;
  width: 560px;
  max-width: 92vw;
  background: var(--sheet);
  border: 1px solid var(--ink);
  border-radius: 0 0 var(--radius) var(--radius);
  padding: 4px;
}
.hits.up {
  top: auto;
  bottom: 100%;
  border-radius: var(--radius) var(--radius) 0 0;
}
li {
  display: grid;
  grid-template-columns: 82px 1fr auto;
  gap: 8px;
  padding: 4px 8px;
  border-radius: 4px;
  cursor: pointer;
}
li.at {
  background: var(--amber-soft);
}
.note {
  padding: 4px 8px;
}
.tip {
  font-size: 12px;
  color: var(--ink-2);
  border-top: 1px solid var(--rule);
}
</style>
