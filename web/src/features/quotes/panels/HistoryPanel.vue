<script setup lang="ts">
/** Who gave what on this quote, and what became of it. */
import { useQuery } from '@tanstack/vue-query'
import { api, take } from '@/api/client'
import { moment } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import StepPanel from '@/kit/step/StepPanel.vue'
import { t } from '@/words'

const props = defineProps<{ quote: number; number: string }>()
const emit = defineEmits<{ close: [] }>()
const { data, error, refetch } = useQuery({
  queryKey: ['quote-history', props.quote],
  queryFn: () =>
    take(
      api.GET('/api/quotes/{quote_id}/history', { params: { path: { quote_id: props.quote } } }),
    ),
  staleTime: 0,
})
</script>

<template>
  <StepPanel
    :title="t('desk.history.title', { number })"
    :leave="t('kit.step.close')"
    @close="emit('close')"
    @go="emit('close')"
  >
    <LoadState v-if="!data" :error="error" :rows="3" @again="refetch()" />
    <p v-else-if="!data.length" class="soft">{{ t('desk.history.none') }}</p>
    <div v-else class="rows">
      <table class="list">
        <tbody>
          <tr v-for="(row, n) in data" :key="n">
            <td class="soft">{{ moment(row.at) }}</td>
            <td>{{ row.who }}</td>
            <td>{{ row.field }}</td>
            <td class="num soft">{{ row.before || '—' }}</td>
            <td>→</td>
            <td>
              <b>{{ row.after || '—' }}</b> <span class="soft">{{ row.reason }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </StepPanel>
</template>

<style scoped>
.rows {
  flex-basis: 100%;
  max-height: 40vh;
  overflow: auto;
}
</style>
