<script setup lang="ts">
/** How a paper looks: accent, size, columns, parts. */
import { computed } from 'vue'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import { maybe, t } from '@/words'
import type { Template } from './queries'

const look = defineModel<Template['look']>({ required: true })
const props = defineProps<{ sizes: string[]; columns: string[] }>()
const PARTS = ['trail', 'tax_rows', 'route', 'signature'] as const
const sizes = computed(() =>
  props.sizes.map((size) => ({ value: size, label: t('papers.points', { size }) })),
)
/** In the order in which they stand on the paper. */
const columns = computed({
  get: () => look.value.columns,
  set: (chosen: string[]) =>
    (look.value = { ...look.value, columns: props.columns.filter((c) => chosen.includes(c)) }),
})
const parts = computed({
  get: () => PARTS.filter((part) => look.value[part]),
  set: (chosen: string[]) => {
    const set = Object.fromEntries(PARTS.map((part) => [part, chosen.includes(part)]))
    look.value = { ...look.value, ...set }
  },
})
</script>

<template>
  <div class="form">
    <ElFormItem :label="t('papers.accent')">
      <ElColorPicker
        :model-value="look.accent"
        :aria-label="t('papers.accent')"
        @change="(accent: string | null) => accent && (look = { ...look, accent })"
      />
    </ElFormItem>
    <ChoiceField
      :model-value="look.size"
      :choices="sizes"
      :label="t('papers.size')"
      name="size"
      @update:model-value="(size) => size && (look = { ...look, size })"
    />
  </div>
  <ElFormItem :label="t('list.columns.label')" class="group">
    <ElCheckboxGroup v-model="columns">
      <ElCheckbox v-for="c in props.columns" :key="c" :value="c">{{
        maybe(`papers.columns.${c}`) ?? c
      }}</ElCheckbox>
    </ElCheckboxGroup>
  </ElFormItem>
  <ElFormItem :label="t('papers.partsLabel')" class="group">
    <ElCheckboxGroup v-model="parts">
      <ElCheckbox v-for="p in PARTS" :key="p" :value="p">{{ t(`papers.parts.${p}`) }}</ElCheckbox>
    </ElCheckboxGroup>
  </ElFormItem>
</template>

<style scoped>
.group {
  margin-top: 12px;
}
.el-checkbox-group {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
}
</style>
