<script lang="ts">
export interface Pick {
  id: number
  label: string
  detail?: string
}
</script>

<script setup lang="ts">
/**
 * A record chosen by a few letters; with `mayMake`, what is typed can stand for a new one. A record
 * that is preset shows its name, not its number.
 */
import { computed, shallowRef, useId, watch } from 'vue'
import { asFault } from '@/api/fault'
import { t } from '@/words'

const chosen = defineModel<number | null>({ required: true })
/** The name of a new one. */
const fresh = defineModel<string>('fresh', { default: '' })
const props = withDefaults(
  defineProps<{
    label: string
    bare?: boolean
    small?: boolean
    placeholder: string
    /** What it says where nothing fits. */
    nothing: string
    find: (words: string, signal: AbortSignal) => Promise<Pick[]>
    nameOf: (id: number) => Promise<Pick>
    mayMake?: boolean
    /** Behind the name of a new one. */
    freshDetail?: string
    error?: string
  }>(),
  { freshDetail: '', error: '' },
)
const id = useId()
const NEW = 'new:'
/** What was found, and by which letters. */
const rows = shallowRef<Pick[]>([])
const foundBy = shallowRef('')
/** The letters that stand there now: they are asked for after a pause. */
const letters = shallowRef('')
const preset = shallowRef<Pick | null>(null)
const typed = shallowRef('')
const busy = shallowRef(false)
const fault = shallowRef('')
let asking: AbortController | undefined

async function look(words: string): Promise<void> {
  typed.value = letters.value = words.trim()
  asking?.abort()
  const mine = (asking = new AbortController())
  busy.value = true
  try {
    const found = await props.find(typed.value, mine.signal)
    if (mine.signal.aborted) return
    rows.value = found
    foundBy.value = typed.value
    fault.value = ''
  } catch (error) {
    if (mine.signal.aborted) return
    rows.value = []
    fault.value = asFault(error).message
  } finally {
    if (!mine.signal.aborted) busy.value = false
  }
}
watch(
  chosen,
  async (now) => {
    if (now === null || rows.value.some((row) => row.id === now)) return
    try {
      const named = await props.nameOf(now)
      if (chosen.value === now) preset.value = named
    } catch (error) {
      fault.value = asFault(error).message
    }
  },
  { immediate: true },
)

const settled = computed(() => foundBy.value === letters.value)
/** Until the answer is there, of what was found before only what holds these letters: keys choose none of the others. */
const offered = computed(() => {
  if (settled.value) return rows.value
  const words = letters.value.toLowerCase().split(/\s+/)
  return rows.value.filter(({ label, detail = '' }) =>
    words.every((word) => `${label} ${detail}`.toLowerCase().includes(word)),
  )
})
/**
 * Heard after the field's own ear: heard before, what is offered would be drawn with the field's old
 * words in it, and the letter just typed be lost.
 */
function typing(event: Event): void {
  letters.value = (event.target as HTMLInputElement).value.trim()
}
const options = computed(() => {
  const known = offered.value.map((row) => ({ ...row, value: String(row.id) }))
  const now = preset.value
  if (now && chosen.value === now.id && !known.some((row) => row.id === now.id)) {
    known.unshift({ ...now, value: String(now.id) })
  }
  // Not before the answer is there: one that exists must not be offered as new.
  const name = typed.value || fresh.value
  const there = known.some((row) => row.label.toLowerCase() === name.toLowerCase())
  if (props.mayMake && name && !there && settled.value && !busy.value && !fault.value) {
    known.push({ id: 0, value: NEW + name, label: name, detail: props.freshDetail })
  }
  return known
})
const value = computed({
  get: () => (chosen.value ? String(chosen.value) : fresh.value ? NEW + fresh.value : ''),
  set: (picked: string | undefined) => {
    fresh.value = picked?.startsWith(NEW) ? picked.slice(NEW.length) : ''
    chosen.value = picked && !picked.startsWith(NEW) ? Number(picked) : null
  },
})
</script>

<template>
  <ElFormItem :label="bare ? undefined : label" :error="fault || error" :for="id" @input="typing">
    <ElSelect
      :id="id"
      v-model="value"
      filterable
      remote
      remote-show-suffix
      clearable
      :remote-method="look"
      :loading="busy && !rows.length"
      :loading-text="t('kit.pick.looking')"
      :placeholder="placeholder"
      :no-data-text="fault || (settled ? nothing : t('kit.pick.looking'))"
      :aria-label="label"
      :size="small ? 'small' : undefined"
      @focus="rows.length || look(letters)"
    >
      <ElOption v-for="o in options" :key="o.value" :value="o.value" :label="o.label">
        <span>{{ o.label }}</span> <span class="soft">{{ o.detail }}</span>
      </ElOption>
    </ElSelect>
  </ElFormItem>
</template>
