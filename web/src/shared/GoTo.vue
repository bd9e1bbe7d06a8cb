<script setup lang="ts">
/** "Go to…": any record or command by a few letters. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, take, type Shapes } from '@/api/client'
import { me } from './session'

const router = useRouter()
const box = ref<HTMLInputElement>()
const words = ref('')
const asked = refDebounced(words, 150)
const open = ref(false)
const at = ref(0)

const COMMANDS = [
  { kind: 'command', name: 'New deal', detail: '', to: '/deals/new' },
  { kind: 'command', name: 'Timetable', detail: '', to: '/timetable' },
  { kind: 'command', name: 'Quotes about to lapse', detail: '', to: '/quotes?state=lapsing' },
  { kind: 'command', name: 'Orders under way', detail: '', to: '/orders?state=way' },
]
const KINDS: Record<string, string> = {
  customer: 'Customer',
  deal: 'Deal',
  quote: 'Quote',
  order: 'Order',
  command: 'Command',
}

const found = useQuery({
  queryKey: computed(() => ['go', asked.value]),
  queryFn: () => take(api.GET('/api/go', { params: { query: { words: asked.value } } })),
  enabled: computed(() => asked.value.trim().length > 1),
})
const hits = computed<Shapes['Hit'][]>(() => {
  const term = words.value.trim().toLowerCase()
  if (!term) return []
  const commands = me.value?.sells
    ? COMMANDS.filter((c) => c.name.toLowerCase().includes(term))
    : []
  return [...(found.data.value ?? []).filter((hit) => hit.to), ...commands]
})
watch(hits, () => (at.value = 0))

function go(hit: Shapes['Hit'] | undefined): void {
  if (!hit) return
  words.value = ''
  open.value = false
  box.value?.blur()
  void router.push(hit.to)
}

function move(step: number): void {
  at.value = Math.min(Math.max(at.value + step, 0), Math.max(hits.value.length - 1, 0))
}

defineExpose({ focus: () => box.value?.focus() })
</script>

<template>
  <div class="go" role="search">
    <input
      ref="box"
      v-model="words"
      class="box"
      type="text"
      role="combobox"
      aria-label="Go to…"
      aria-controls="go-hits"
      :aria-expanded="open && hits.length > 0"
      :aria-activedescendant="hits.length ? `go-${at}` : undefined"
      placeholder="Go to…"
      autocomplete="off"
      @focus="open = true"
      @blur="open = false"
      @keydown.down.prevent="move(1)"
      @keydown.up.prevent="move(-1)"
      @keydown.enter.prevent="go(hits[at])"
      @keydown.esc="box?.blur()"
    />
    <kbd aria-hidden="true">Ctrl K</kbd>
    <ul v-show="open && words.trim()" id="go-hits" role="listbox" aria-label="Found">
      <li
        v-for="(hit, n) in hits"
        :id="`go-${n}`"
        :key="hit.kind + hit.to + hit.name"
        role="option"
        :aria-selected="n === at"
        @mousedown.prevent="go(hit)"
        @mousemove="at = n"
      >
        <span class="kind">{{ KINDS[hit.kind] }}</span>
        <b>{{ hit.name }}</b>
        <span class="soft">{{ hit.detail }}</span>
      </li>
      <li v-if="!hits.length" class="none" role="option" aria-selected="false">
        {{ found.isFetching.value ? 'Looking…' : 'Nothing by that name.' }}
      </li>
    </ul>
  </div>
</template>

<style scoped>
.go {
  position: relative;
  width: 230px;
}
.box {
  width: 100%;
  height: 28px;
  border: 1px solid var(--rule);
  border-radius: 14px;
  background: var(--paper);
  padding: 0 60px 0 13px;
}
.box::placeholder {
  color: var(--ink-2);
}
kbd {
  position: absolute;
  right: 12px;
  top: 6px;
  font: 11px var(--font);
  color: var(--ink-2);
  pointer-events: none;
}
ul {
  position: absolute;
  right: 0;
  top: 33px;
  width: 420px;
  max-width: 92vw;
  z-index: 40;
  background: var(--sheet);
  border: 1px solid var(--ink);
  border-radius: var(--radius);
  padding: 4px;
}
li {
  display: grid;
  grid-template-columns: 76px auto 1fr;
  gap: 8px;
  padding: 5px 8px;
  border-radius: 4px;
  cursor: pointer;
  white-space: nowrap;
  overflow: hidden;
}
li[aria-selected='true'] {
  background: var(--amber-soft);
}
li.none {
  display: block;
  color: var(--ink-2);
}
.kind {
  font-size: 12px;
  color: var(--ink-2);
}
</style>
