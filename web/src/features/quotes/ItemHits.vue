<script setup lang="ts">
/** The items that the typed letters find, below the editor. */
import { count } from '@/kit/format/format'
import type { useItemSearch } from './useItemSearch'

defineProps<{ search: ReturnType<typeof useItemSearch> }>()
</script>

<template>
  <ul id="item-hits" role="listbox" aria-label="Items">
    <li
      v-for="(hit, n) in search.hits.value"
      :key="hit.id"
      role="option"
      :aria-selected="n === search.chosen.value"
      @mousedown.prevent="$event.ctrlKey || $event.shiftKey ? search.mark(hit) : search.add(hit)"
      @mousemove="search.point(n)"
    >
      <span class="soft">{{ search.isMarked(hit) ? '✓ ' : '' }}{{ hit.code }}</span>
      <b>{{ hit.name }}</b>
      <span class="soft">{{ hit.group }}</span>
    </li>
    <li
      v-if="!search.hits.value.length && !search.found.isFetching.value"
      role="option"
      aria-selected="false"
    >
      No item with these letters.
    </li>
    <li v-if="search.hits.value.length" class="soft tip" role="presentation">
      <span>{{ search.marked.value.length ? count(search.marked.value.length, 'item') : '' }}</span>
      <span>{{
        search.marked.value.length
          ? `marked: ${search.marked.value.map((row) => row.code).join(', ')}. Enter takes them in.`
          : 'Shift Enter marks several'
      }}</span>
    </li>
  </ul>
</template>

<style scoped>
ul {
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
li {
  display: grid;
  grid-template-columns: 82px 1fr auto;
  gap: 8px;
  padding: 4px 8px;
  border-radius: 4px;
  cursor: pointer;
}
li.tip {
  font-size: 12px;
  border-top: 1px solid var(--rule);
  cursor: default;
  border-radius: 0;
}
li[aria-selected='true'] {
  background: var(--amber-soft);
}
</style>
