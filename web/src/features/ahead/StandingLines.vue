<script setup lang="ts">
/** What they want each time: an item by a few letters, how much, in which of its units. */
import { ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import TextField from '@/kit/form/TextField.vue'
import { figure } from '@/kit/format/format'
import ItemPick from '@/parts/item/ItemPick.vue'
import { readQuantity } from '@/parts/line/numbers'
import { t } from '@/words'
import { emptyEach, type TypedEach } from './standing'

const lines = defineModel<TypedEach[]>({ required: true })
const items = ref<Record<number, Shapes['ItemOut']>>({})
const put = (key: number, changes: Partial<TypedEach>) =>
  (lines.value = lines.value.map((line) => (line.key === key ? { ...line, ...changes } : line)))

async function look(item: number): Promise<Shapes['ItemOut'] | undefined> {
  const [found] = await take(api.GET('/api/items', { params: { query: { id: item } } }))
  if (found) items.value = { ...items.value, [item]: found }
  return found
}
async function choose(key: number, item: number | null): Promise<void> {
  put(key, { item_id: item, unit: '' })
  const found = item ? await look(item) : undefined
  if (found) put(key, { unit: found.sales_unit })
}
const unitsOf = (line: TypedEach) =>
  (items.value[line.item_id ?? 0]?.units ?? []).map(({ code, name }) => ({ value: code, label: name })) // prettier-ignore
const remove = (key: number) => (lines.value = lines.value.filter((line) => line.key !== key))
for (const line of lines.value) if (line.item_id) void look(line.item_id)
</script>

<template>
  <fieldset class="lines">
    <legend>{{ t('ahead.standing.lines') }}</legend>
    <div v-for="line in lines" :key="line.key" class="row">
      <ItemPick
        :model-value="line.item_id"
        @update:model-value="(item) => void choose(line.key, item)"
      />
      <TextField
        :text="line.quantity && figure(line.quantity)"
        :label="t('ahead.standing.quantity')"
        :read="readQuantity"
        figure
        @change="(quantity) => put(line.key, { quantity })"
      />
      <ChoiceField
        :model-value="line.unit || null"
        :choices="unitsOf(line)"
        :label="t('ahead.standing.unit')"
        @update:model-value="(unit) => unit && put(line.key, { unit })"
      />
      <ElButton
        text
        size="small"
        class="out"
        :aria-label="t('ahead.standing.removeLine', { item: items[line.item_id ?? 0]?.name ?? '' })"
        @click="remove(line.key)"
        >✕</ElButton
      >
    </div>
    <ElButton size="small" @click="lines = [...lines, emptyEach(lines)]">{{
      t('ahead.standing.addLine')
    }}</ElButton>
  </fieldset>
</template>

<style scoped>
.lines {
  border: 0;
  padding: 0;
  margin: 0;
  grid-column: 1 / -1;
  min-width: 0;
}
legend {
  font-weight: 700;
  margin-bottom: 6px;
}
.row {
  display: grid;
  grid-template-columns: minmax(180px, 3fr) 110px 130px auto;
  gap: 4px 12px;
  align-items: end;
}
.row :deep(.el-form-item) {
  margin-bottom: 8px;
}
.out {
  margin-bottom: 10px;
}
@media (max-width: 820px) {
  .row {
    grid-template-columns: 1fr 1fr auto;
  }
  .row > :first-child {
    grid-column: 1 / -1;
  }
}
</style>
