<script lang="ts">
export interface Choice<V extends string | number> {
  value: V
  label: string
  /** What tells it apart, in soft letters behind it. */
  detail?: string
}
</script>

<script setup lang="ts" generic="V extends string | number">
/** One of some choices. Nothing is chosen before the person chooses: arrows only point. */
import { useId, useTemplateRef, watchPostEffect } from 'vue'

const chosen = defineModel<V | null>({ required: true })
const props = withDefaults(
  defineProps<{
    choices: Choice<V>[]
    label: string
    /** The label is for screen readers alone. */
    bare?: boolean
    name?: string
    error?: string
    clearable?: boolean
    placeholder?: string
    disabled?: boolean
    small?: boolean
    filterable?: boolean
  }>(),
  { name: undefined, error: '', placeholder: ' ' },
)
const id = useId()
const select = useTemplateRef<{ $el: HTMLElement }>('select')
// What is chosen stands beside the field, where a screen reader does not look: it is told with it.
watchPostEffect(() => {
  const name = props.choices.find((each) => each.value === chosen.value)?.label ?? ''
  select.value?.$el.querySelector('input')?.setAttribute('aria-description', name)
})
</script>

<template>
  <ElFormItem :label="bare ? undefined : label" :error="error" :for="id">
    <ElSelect
      :id="id"
      ref="select"
      v-model="chosen"
      :name="name"
      :aria-label="label"
      :clearable="clearable"
      :empty-values="[null, undefined]"
      :value-on-clear="null"
      :placeholder="placeholder"
      :disabled="disabled"
      :filterable="filterable"
      :size="small ? 'small' : undefined"
    >
      <ElOption v-for="c in choices" :key="c.value" :value="c.value" :label="c.label">
        <span>{{ c.label }}</span>
        <span v-if="c.detail" class="soft detail">{{ c.detail }}</span>
      </ElOption>
    </ElSelect>
  </ElFormItem>
</template>

<style scoped>
.detail {
  margin-left: 8px;
}
</style>
