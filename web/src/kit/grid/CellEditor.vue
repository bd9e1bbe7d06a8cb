<script setup lang="ts">
/** The floating editor over its cell: a field, or a choice where the cell has choices. */
import { useEventListener, useResizeObserver } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, useTemplateRef, watch } from 'vue'
import type { Editing } from './useCellEditor'

const props = defineProps<{
  editing: Editing
  /** The cell it stands over, and the box that it scrolls with. */
  cell: () => HTMLElement | null
  wrap: HTMLElement
  label: string
  numeric?: boolean
  choices?: { value: string; label: string }[]
  /** The list that it looks things up in, and the hit that is pointed at. */
  list?: { id: string; open: boolean; active?: string }
}>()
const emit = defineEmits<{ type: [text: string]; key: [event: KeyboardEvent]; left: [] }>()
const field = useTemplateRef<HTMLInputElement>('field')
const choice = useTemplateRef<HTMLSelectElement>('choice')
const box = ref({ left: '0px', top: '0px', width: '0px', height: '0px' })
const text = computed({
  get: () => props.editing.text,
  set: (now) => emit('type', now),
})

function place(): void {
  const cell = props.cell()
  if (!cell) return
  const outer = props.wrap.getBoundingClientRect()
  const inner = cell.getBoundingClientRect()
  box.value = {
    left: `${inner.left - outer.left + props.wrap.scrollLeft}px`,
    top: `${inner.top - outer.top + props.wrap.scrollTop}px`,
    width: `${inner.width}px`,
    height: `${inner.height}px`,
  }
}
function focus(): void {
  const element = field.value ?? choice.value
  element?.focus({ preventScroll: true })
  if (!props.editing.begun) field.value?.select()
}
onMounted(() => {
  place()
  focus()
})
watch(
  () => props.editing.session,
  () => void nextTick(() => (place(), focus())),
)
useResizeObserver(() => props.wrap, place)
useEventListener(window, 'resize', place)
defineExpose({ select: () => field.value?.select(), place })
</script>

<template>
  <div class="editor" :style="box">
    <select
      v-if="choices"
      ref="choice"
      v-model="text"
      :aria-label="label"
      @keydown="emit('key', $event)"
      @blur="emit('left')"
    >
      <option v-for="each in choices" :key="each.value" :value="each.value">
        {{ each.label }}
      </option>
    </select>
    <input
      v-else
      ref="field"
      v-model="text"
      :class="{ num: numeric }"
      :inputmode="numeric ? 'decimal' : undefined"
      :aria-label="label"
      :aria-invalid="editing.reason !== ''"
      :aria-describedby="editing.reason ? 'cell-reason' : undefined"
      :role="list ? 'combobox' : undefined"
      :aria-expanded="list?.open"
      :aria-controls="list?.id"
      :aria-activedescendant="list?.active"
      autocomplete="off"
      @keydown="emit('key', $event)"
      @blur="emit('left')"
    />
    <p v-if="editing.reason" id="cell-reason" class="reason" role="alert">{{ editing.reason }}</p>
    <slot />
  </div>
</template>

<style scoped>
.editor {
  position: absolute;
  z-index: 10;
}
input,
select {
  width: 100%;
  height: 100%;
  border: 2px solid var(--coral);
  border-radius: 0;
  background: var(--sheet);
  padding: 0 6px;
  outline: none;
  font-weight: 600;
}
.reason {
  position: absolute;
  top: 100%;
  right: 0;
  background: var(--red);
  color: var(--sheet);
  padding: 3px 9px;
  white-space: nowrap;
  font-size: 12px;
}
@media (max-width: 820px) {
  .reason {
    white-space: normal;
    width: max-content;
    max-width: 70vw;
  }
}
</style>
