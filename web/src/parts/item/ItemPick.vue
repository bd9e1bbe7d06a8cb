<script setup lang="ts">
/** Choose an item by a few letters. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'

const chosen = defineModel<number | null>({ required: true })
defineProps<{ id: string }>()
const words = ref('')
const found = useQuery({
  queryKey: computed(() => ['items', words.value, 'pick']),
  queryFn: () =>
    take(api.GET('/api/items', { params: { query: { words: words.value, most: 50 } } })),
  placeholderData: (before) => before,
})
const value = computed({
  get: () => (chosen.value ? String(chosen.value) : ''),
  set: (picked: string) => (chosen.value = picked ? Number(picked) : null),
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
    placeholder="Type letters of an item"
    no-data-text="No item with these letters"
    aria-label="Item"
  >
    <el-option
      v-for="i in found.data.value ?? []"
      :key="i.id"
      :value="String(i.id)"
      :label="`${i.code} ${i.name}`"
    />
  </el-select>
</template>
