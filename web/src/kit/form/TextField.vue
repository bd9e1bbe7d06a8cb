<script setup lang="ts" generic="T = string">
/**
 * A field that is taken in when it is left, or by Enter. What cannot be read stays in the field with
 * its reason; a fresh value from elsewhere does not wipe what is being typed.
 */
import type { InputInstance } from 'element-plus'
import { computed, ref, useId, useTemplateRef, watch } from 'vue'
import { useAsked } from './unread'

type Got = { value: T } | { reason: string }
const props = withDefaults(
  defineProps<{
    /** The text as it stands. */
    text: string
    label: string
    bare?: boolean
    name?: string
    /** What the server says of it. */
    error?: string
    /** How a text is read; without it, the text itself is the value. */
    read?: (text: string) => Got
    figure?: boolean
    placeholder?: string
    maxlength?: number
    /** What stands behind the figure, as a currency. */
    unit?: string
    readonly?: boolean
    required?: boolean
    rows?: number
  }>(),
  { name: undefined, error: '', read: undefined, placeholder: '', maxlength: undefined, unit: '', rows: undefined }, // prettier-ignore
)
const emit = defineEmits<{ change: [value: T] }>()
const id = useId()
const typed = ref(props.text)
const reason = ref('')
const inside = ref(false)
watch(
  () => props.text,
  (now, before) => {
    if (!inside.value || typed.value === before) typed.value = now
    if (!inside.value) reason.value = ''
  },
)
function take(): void {
  if (typed.value === props.text) {
    reason.value = ''
    return
  }
  const got = props.read ? props.read(typed.value) : { value: typed.value as T }
  reason.value = 'reason' in got ? got.reason : ''
  if ('value' in got) emit('change', got.value)
}
function left(): void {
  inside.value = false
  take()
  // Read, it shows as it now stands: "1200" as "1 200".
  if (!reason.value) typed.value = props.text
}
const shown = computed(() => reason.value || props.error)
const input = useTemplateRef<InputInstance>('input')
useAsked(() => {
  take()
  const focus = () => input.value?.focus()
  return reason.value ? { label: props.label, text: typed.value, focus } : null
})
</script>

<template>
  <ElFormItem
    :label="bare ? undefined : label"
    :error="shown"
    :for="id"
    :required="required"
    @focusin="inside = true"
    @focusout="left"
  >
    <ElInput
      :id="id"
      ref="input"
      v-model="typed"
      :name="name"
      :type="rows ? 'textarea' : 'text'"
      :rows="rows"
      :class="{ figure }"
      :aria-label="label"
      :inputmode="figure ? 'decimal' : undefined"
      :placeholder="placeholder"
      :maxlength="maxlength"
      :readonly="readonly"
      :aria-invalid="shown !== ''"
      autocomplete="off"
      @input="reason = ''"
      @keydown.enter="rows || take()"
    >
      <template v-if="unit" #suffix>{{ unit }}</template>
    </ElInput>
  </ElFormItem>
</template>
