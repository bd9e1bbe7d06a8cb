<script setup lang="ts">
/** Choose a customer by a few letters, or name a new one. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'

const chosen = defineModel<number | null>({ required: true })
const fresh = defineModel<string>('fresh', { default: '' })
const props = defineProps<{ id: string; mayMake?: boolean }>()
const words = ref('')

const found = useQuery({
  queryKey: computed(() => ['pick-customer', words.value]),
  queryFn: () => take(api.GET('/api/customers', { params: { query: { words: words.value } } })),
  placeholderData: (before) => before,
})
const NEW = 'new:'
const options = computed(() => {
  const rows = (found.data.value?.rows ?? [])
    .slice(0, 12)
    .map((row) => ({ value: String(row.id), label: row.name, detail: row.town }))
  const typed = words.value.trim() || fresh.value
  const known = rows.some((row) => row.label.toLowerCase() === typed.toLowerCase())
  // Not before the answer is there: a customer that exists must not be offered as new.
  const settled = found.isSuccess.value && !found.isPlaceholderData.value
  if (props.mayMake && typed && !known && settled) {
    rows.push({ value: NEW + typed, label: `${typed}`, detail: 'new customer' })
  }
  return rows
})
const value = computed({
  get: () => (chosen.value ? String(chosen.value) : fresh.value ? NEW + fresh.value : ''),
  set: (picked: string) => {
    fresh.value = picked.startsWith(NEW) ? picked.slice(NEW.length) : ''
    chosen.value = picked && !picked.startsWith(NEW) ? Number(picked) : null
  },
})
</script>

<template>
  <el-select
    :id="id"
    v-model="value"
    filterable
    remote
    clearable
    :remote-method="(typed: string) => (words = typed)"
    placeholder="Type a few letters of the name"
    no-data-text="No customer by that name"
    aria-label="Customer"
  >
    <el-option v-for="o in options" :key="o.value" :value="o.value" :label="o.label">
      <span>{{ o.label }}</span> <span class="soft">{{ o.detail }}</span>
    </el-option>
  </el-select>
</template>
