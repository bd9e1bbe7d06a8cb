<script setup lang="ts">
/** Choose an item by a few letters. */
import { api, take, type Shapes } from '@/api/client'
import PickField, { type Pick } from '@/kit/form/PickField.vue'
import { t } from '@/words'

const chosen = defineModel<number | null>({ required: true })
const MOST = 50
const asPick = (item: Shapes['ItemOut']): Pick => ({
  id: item.id,
  label: `${item.code} ${item.name}`,
  detail: item.group,
})

async function find(words: string, signal: AbortSignal): Promise<Pick[]> {
  const query = { words, most: MOST }
  return (await take(api.GET('/api/items', { params: { query }, signal }))).map(asPick)
}
async function nameOf(id: number): Promise<Pick> {
  const [found] = await take(api.GET('/api/items', { params: { query: { id } } }))
  return found ? asPick(found) : { id, label: t('parts.item.gone') }
}
</script>

<template>
  <PickField
    v-model="chosen"
    :label="t('parts.item.label')"
    :placeholder="t('parts.item.hint')"
    :nothing="t('parts.item.nothing')"
    :find="find"
    :name-of="nameOf"
  />
</template>
