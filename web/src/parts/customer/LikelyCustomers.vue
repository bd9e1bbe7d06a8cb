<script setup lang="ts">
/** Before a customer is made: who may be there already, looked for while one types; the person decides. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed } from 'vue'
import { api, take } from '@/api/client'
import { t } from '@/words'
import LikelyList from './LikelyList.vue'

const props = defineProps<{ name: string; mail?: string; phone?: string }>()
const emit = defineEmits<{ choose: [id: number] }>()
const PAUSE_MS = 300
const typed = computed(() => ({
  name: props.name.trim().slice(0, 120),
  mail: (props.mail ?? '').trim().slice(0, 200),
  phone: (props.phone ?? '').trim().slice(0, 40),
}))
const asked = refDebounced(typed, PAUSE_MS)
const { data } = useQuery({
  queryKey: computed(() => ['likely-customers', asked.value]),
  queryFn: ({ signal }) =>
    take(api.GET('/api/likely-customers', { params: { query: asked.value }, signal })),
  enabled: computed(() => asked.value.name.length > 2),
  placeholderData: (before) => before,
})
const found = computed(() => (typed.value.name.length > 2 ? (data.value ?? []) : []))
</script>

<template>
  <aside v-if="found.length" class="likely" role="status">
    <p>{{ t('parts.customer.likely') }}</p>
    <LikelyList :found="found">
      <template #act="{ id }">
        <ElButton size="small" @click="emit('choose', id)">{{
          t('parts.customer.takeThis')
        }}</ElButton>
      </template>
    </LikelyList>
  </aside>
</template>

<style scoped>
.likely {
  padding: 6px 12px;
  background: var(--amber-soft);
}
</style>
