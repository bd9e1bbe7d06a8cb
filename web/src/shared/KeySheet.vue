<script setup lang="ts">
/** The sheet of keys, over any page. */
import { onKeyStroke } from '@vueuse/core'
import { nextTick, ref, watch } from 'vue'
import { KEYS } from './keys'

const open = defineModel<boolean>({ required: true })
const sheet = ref<HTMLDialogElement>()

onKeyStroke(['?', '/'], (event) => {
  const typing = /INPUT|TEXTAREA|SELECT/.test((event.target as HTMLElement).tagName)
  const asked = event.key === '?' ? !typing : event.ctrlKey || event.metaKey
  if (!asked) return
  event.preventDefault()
  open.value = !open.value
})
watch(open, async (shown) => {
  await nextTick()
  if (shown) sheet.value?.showModal()
})
</script>

<template>
  <dialog v-if="open" ref="sheet" aria-labelledby="keys-title" @close="open = false">
    <header>
      <h2 id="keys-title">Keys</h2>
      <button class="btn small" @click="open = false">Close</button>
    </header>
    <div class="groups">
      <section v-for="group in KEYS" :key="group.title">
        <h3>{{ group.title }}</h3>
        <dl>
          <template v-for="[keys, does] in group.keys" :key="keys">
            <dt>
              <kbd>{{ keys }}</kbd>
            </dt>
            <dd>{{ does }}</dd>
          </template>
        </dl>
      </section>
    </div>
  </dialog>
</template>

<style scoped>
dialog {
  width: min(940px, 94vw);
  border: 2px solid var(--ink);
  border-radius: 8px;
  background: var(--sheet);
  color: var(--ink);
  padding: 16px 22px 20px;
}
dialog::backdrop {
  background: rgb(18 51 43 / 35%);
}
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.groups {
  columns: 2;
  column-gap: 36px;
}
section {
  break-inside: avoid;
  margin-top: 12px;
}
h3 {
  font-size: 13px;
  margin: 0 0 4px;
}
dl {
  display: grid;
  grid-template-columns: 148px 1fr;
  gap: 5px 12px;
  margin: 0;
}
dd {
  margin: 0;
}
kbd {
  font: inherit;
  font-weight: 600;
}
@media (max-width: 700px) {
  .groups {
    columns: 1;
  }
}
</style>
