<script setup lang="ts">
/** A draft of an earlier day: what its price as of today would move, before anything changes. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, take } from '@/api/client'
import { count, day } from '@/kit/format/format'
import ComparisonTable from './ComparisonTable.vue'

const props = defineProps<{ revision: number; on: string }>()
defineEmits<{ go: [] }>()
const looking = ref(false)
const { data, error } = useQuery({
  queryKey: ['again', props.revision],
  queryFn: () =>
    take(
      api.GET('/api/revisions/{revision_id}/again', {
        params: { path: { revision_id: props.revision } },
      }),
    ),
  enabled: looking,
  staleTime: 0,
})
</script>

<template>
  <p class="acts">
    Priced as of {{ day(on) }}, and stays so until you ask for today's prices.
    <button class="btn small" @click="looking = true">What would move?</button>
    <button class="btn small" @click="$emit('go')">Price as of today</button>
  </p>
  <p v-if="error" class="fault">{{ error.message }}</p>
  <p v-else-if="data && !data.moved">Nothing would move.</p>
  <template v-else-if="data">
    <p>
      <b>{{ count(data.moved, 'figure') }} would move.</b>
    </p>
    <ComparisonTable :data="data" />
  </template>
</template>

<style scoped>
.acts {
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
}
</style>
