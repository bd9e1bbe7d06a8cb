<script setup lang="ts">
/** Choose a customer by a few letters, or name a new one. */
import { api, take } from '@/api/client'
import PickField, { type Pick } from '@/kit/form/PickField.vue'
import { t } from '@/words'

const chosen = defineModel<number | null>({ required: true })
const fresh = defineModel<string>('fresh', { default: '' })
defineProps<{
  mayMake?: boolean
  error?: string
  label?: string
  placeholder?: string
  bare?: boolean
  small?: boolean
}>()
const MOST = 12

async function find(words: string, signal: AbortSignal): Promise<Pick[]> {
  const found = await take(api.GET('/api/customers', { params: { query: { words } }, signal }))
  return found.rows.slice(0, MOST).map(({ id, name, town }) => ({ id, label: name, detail: town }))
}
async function nameOf(id: number): Promise<Pick> {
  const path = { customer_id: id }
  const found = await take(api.GET('/api/customers/{customer_id}', { params: { path } }))
  return { id, label: found.name }
}
</script>

<template>
  <PickField
    v-model="chosen"
    v-model:fresh="fresh"
    :label="label ?? t('parts.customer.label')"
    :placeholder="placeholder ?? t('parts.customer.hint')"
    :nothing="t('parts.customer.nothing')"
    :find="find"
    :name-of="nameOf"
    :may-make="mayMake"
    :fresh-detail="t('parts.customer.fresh')"
    :error="error"
    :bare="bare"
    :small="small"
  />
</template>
