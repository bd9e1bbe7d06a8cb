<script setup lang="ts">
/** "Go to…": any record or command by a few letters. */
import { computed, onMounted, ref, useTemplateRef } from 'vue'
import { useRouter } from 'vue-router'
import { api, take, type Shapes } from '@/api/client'
import { me } from '@/api/session'
import { useLookup } from '@/kit/form/useLookup'
import { maybe, t } from '@/words'

const router = useRouter()
const box = useTemplateRef('box')
const words = ref('')
const open = ref(false)

const commands = computed(() => [
  { name: t('leads.new'), to: '/leads/new' },
  { name: t('leads.title'), to: '/leads' },
  { name: t('app.go.newDeal'), to: '/deals/new' },
  { name: t('app.go.timetable'), to: '/timetable' },
  { name: t('diary.page.title'), to: '/diary' },
  { name: t('mail.title'), to: '/mail' },
  { name: t('app.go.lapsing'), to: '/quotes?state=lapsing' },
  { name: t('app.go.underWay'), to: '/orders?state=way' },
])
const look = useLookup<Shapes['Hit']>({
  words,
  least: 2,
  ask: (asked, signal) =>
    take(api.GET('/api/go', { params: { query: { words: asked } }, signal })).then((hits) =>
      hits.filter((hit) => hit.to),
    ),
  own: (asked) =>
    me.value?.sells
      ? commands.value
          .filter((c) => c.name.toLowerCase().includes(asked.toLowerCase()))
          .map((c) => ({ kind: 'command', detail: '', ...c }))
      : [],
  chosen: (hit) => {
    words.value = ''
    open.value = false
    box.value?.blur()
    void router.push(hit.to)
  },
})
function keyed(event: Event | KeyboardEvent): void {
  if (!(event instanceof KeyboardEvent)) return
  if (event.key === 'ArrowDown') look.step(1)
  else if (event.key === 'ArrowUp') look.step(-1)
  else if (event.key === 'Enter') look.choose()
  else if (event.key === 'Escape') box.value?.blur()
  else return
  event.preventDefault()
}
const note = computed(() => {
  if (look.error.value) return t('app.go.failed')
  return look.settled.value ? t('app.go.nothing') : t('app.go.looking')
})

// The field of the library hands every attribute on but its role.
onMounted(() => box.value?.input?.setAttribute('role', 'combobox'))
defineExpose({ focus: () => box.value?.focus() })
</script>

<template>
  <div class="go" role="search">
    <ElInput
      ref="box"
      v-model="words"
      :aria-label="t('app.go.label')"
      aria-controls="go-hits"
      :aria-expanded="open && look.hits.value.length > 0"
      :aria-activedescendant="look.hits.value.length ? `go-${look.at.value}` : undefined"
      :placeholder="t('app.go.label')"
      autocomplete="off"
      @focus="open = true"
      @blur="open = false"
      @keydown="keyed"
    />
    <kbd v-show="!words" aria-hidden="true">Ctrl K</kbd>
    <div v-show="open && words.trim()" class="hits">
      <ul id="go-hits" role="listbox" :aria-label="t('app.go.found')">
        <li
          v-for="(hit, n) in look.hits.value"
          :id="`go-${n}`"
          :key="hit.kind + hit.to + hit.name"
          role="option"
          :aria-selected="n === look.at.value"
          @mousedown.prevent="look.take(hit)"
          @mousemove="look.point(n)"
        >
          <span class="kind">{{ maybe(`app.go.kinds.${hit.kind}`) }}</span>
          <b>{{ hit.name }}</b>
          <span class="soft">{{ hit.detail }}</span>
        </li>
      </ul>
      <p v-if="!look.hits.value.length" class="none" role="status">{{ note }}</p>
    </div>
  </div>
</template>

<style scoped>
.go {
  position: relative;
  width: 230px;
}
.go :deep(.el-input__wrapper) {
  border-radius: 15px;
  background: var(--paper);
  padding: 0 13px;
}
kbd {
  position: absolute;
  right: 12px;
  top: 7px;
  font: 11px var(--font);
  color: var(--ink-2);
  pointer-events: none;
}
.hits {
  position: absolute;
  right: 0;
  top: 34px;
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
.none {
  padding: 5px 8px;
  color: var(--ink-2);
}
.kind {
  font-size: 12px;
  color: var(--ink-2);
}
@media (max-width: 1180px) {
  .go {
    width: 160px;
  }
}
@media (max-width: 480px) {
  kbd {
    display: none;
  }
}
@media (max-width: 980px) {
  .go {
    flex: 1 1 110px;
    width: auto;
  }
}
</style>
