<script setup lang="ts">
/**
 * A business day: chosen, or typed as people type days ("12.3.", "+7"). It is taken in when the field
 * is left or by Enter, never letter by letter; what is no day is told and changes nothing.
 */
import { computed, ref, useId, useTemplateRef, watch } from 'vue'
import { day, todayIso } from '@/kit/format/day'
import { format } from '@/kit/format/person'
import { readDay } from '@/kit/format/readDay'
import { t } from '@/words'
import { useAsked } from './unread'

const props = withDefaults(
  defineProps<{
    modelValue: string | null
    label: string
    bare?: boolean
    name?: string
    error?: string
    /** The first day that can be chosen. */
    from?: string
    clearable?: boolean
    /** A day typed without its year lies behind us. */
    behind?: boolean
    placeholder?: string
    small?: boolean
  }>(),
  { name: undefined, error: '', from: '', placeholder: undefined },
)
const emit = defineEmits<{ 'update:modelValue': [day: string | null] }>()
const id = useId()
const reason = ref('')
watch(
  () => props.modelValue,
  () => (reason.value = ''),
)
const value = computed({
  get: () => props.modelValue ?? '',
  set: (picked: string | null) => take(picked || null),
})

function take(picked: string | null): void {
  if (picked === props.modelValue || (!picked && !props.clearable)) return
  reason.value = ''
  if (picked && props.from && picked < props.from) {
    reason.value = t('kit.day.before', { day: day(props.from) })
  } else emit('update:modelValue', picked)
}
/** The day that was typed, and none where it is no day or too early, with the reason. */
function readTyped(text: string): string | null {
  const read = readDay(text, !props.behind)
  if (read === null) reason.value = t('kit.day.none', { text })
  else if (props.from !== '' && read < props.from) {
    reason.value = t('kit.day.before', { day: day(props.from) })
  } else return read
  return null
}
/** Put what was typed as the picker writes it, before the picker reads it. */
function tidy(event: Event): void {
  const field = event.target
  if (!(field instanceof HTMLInputElement)) return
  if (event instanceof KeyboardEvent && event.key !== 'Enter' && event.key !== 'Tab') return
  const text = field.value.trim()
  if (!text || text === written(props.modelValue)) return
  put(field, readTyped(text) ?? props.modelValue)
}
function put(field: HTMLInputElement, iso: string | null): void {
  field.value = written(iso)
  field.dispatchEvent(new Event('input'))
}
const holder = useTemplateRef<HTMLElement>('holder')
useAsked(() => {
  const field = holder.value?.querySelector('input')
  const text = field?.value.trim()
  if (!field || !text || text === written(props.modelValue)) return null
  const read = readTyped(text)
  put(field, read ?? props.modelValue)
  if (read === null) return { label: props.label, text, focus: () => field.focus() }
  take(read)
  return null
})
/** A day as the picker's own format writes it. */
function written(iso: string | null): string {
  if (!iso) return ''
  const [year = '', month = '', date = ''] = iso.split('-')
  return format.value.day
    .replace('YYYY', year)
    .replace('MMM', MONTHS[Number(month) - 1] ?? '')
    .replace('MM', month)
    .replace('DD', date)
    .replace(/\bD\b/, String(Number(date)))
}
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
function isBefore(date: Date): boolean {
  const iso = `${date.getFullYear()}-${String(date.getMonth() + 1).padStart(2, '0')}-${String(date.getDate()).padStart(2, '0')}`
  return props.from !== '' && iso < props.from
}
/** The house's today, where the calendar opens. */
const opens = computed(() => new Date(`${props.modelValue ?? todayIso()}T12:00:00`))
</script>

<template>
  <ElFormItem :label="bare ? undefined : label" :error="reason || error" :for="id">
    <div ref="holder" class="holder" @keydown.capture="tidy" @change.capture="tidy">
      <ElDatePicker
        :id="id"
        v-model="value"
        type="date"
        :name="name"
        :aria-label="label"
        :format="format.day"
        value-format="YYYY-MM-DD"
        :disabled-date="isBefore"
        :default-value="opens"
        :clearable="clearable"
        :placeholder="placeholder ?? t('kit.day.hint')"
        :size="small ? 'small' : 'default'"
        :automatic-dropdown="false"
        :prefix-icon="'span'"
      />
    </div>
  </ElFormItem>
</template>

<style scoped>
.holder {
  min-width: 118px;
  width: 100%;
}
</style>
