<script setup lang="ts">
/** A draft of an earlier day: what its price as of today would move, before anything changes. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, take } from '@/api/client'
import { day } from '@/kit/format/format'
import { t, tn } from '@/words'
import ComparisonTable from './ComparisonTable.vue'

const props = defineProps<{ revision: number; on: string }>()
defineEmits<{ go: [] }>()
const looking = ref(false)
const { data, error, isFetching } = useQuery({
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
    {{ t('checks.again.asOf', { day: day(on) }) }}
    <ElButton size="small" :loading="isFetching" @click="looking = true">{{
      t('checks.again.look')
    }}</ElButton>
    <ElButton size="small" @click="$emit('go')">{{ t('checks.again.go') }}</ElButton>
  </p>
  <p v-if="error" class="fault" role="alert">{{ error.message }}</p>
  <p v-else-if="data && !data.moved">{{ t('checks.again.nothing') }}</p>
  <template v-else-if="data">
    <p>
      <b>{{ tn('checks.again.moved', data.moved) }}</b>
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
