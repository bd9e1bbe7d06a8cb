<script setup lang="ts">
/** What was sent of an order and what came back, as it went over the wire; to be read. */
import { useQuery } from '@tanstack/vue-query'
import { api, take } from '@/api/client'
import { moment } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { maybe, t } from '@/words'
import { laidOut } from './laidOut'

const props = defineProps<{ id: number }>()
const { data, error, refetch } = useQuery({
  queryKey: ['handover', props.id],
  queryFn: ({ signal }) =>
    take(
      api.GET('/api/handovers/{handover_id}', {
        params: { path: { handover_id: props.id } },
        signal,
      }),
    ),
})
</script>

<template>
  <LoadState v-if="!data" :error="error" @again="refetch()" />
  <div v-else class="wire">
    <section>
      <h3>
        {{ t('handovers.sentAs') }} <small class="soft">{{ data.key }}</small>
      </h3>
      <pre tabindex="0">{{ laidOut(JSON.stringify(data.sent)) }}</pre>
    </section>
    <section>
      <h3>{{ t('handovers.came') }}</h3>
      <p v-if="!data.came.length" class="soft">{{ t('orders.news.none') }}</p>
      <details v-for="(each, n) in data.came" :key="n">
        <summary>
          <b>{{ maybe(`orders.news.${each.kind}`) ?? each.kind }}</b>
          {{ moment(each.at ?? each.received_at) }}
          <span v-if="each.state !== 'applied'" class="fault">{{
            maybe(`handovers.event.${each.state}`)
          }}</span>
        </summary>
        <pre tabindex="0">{{ laidOut(each.raw) }}</pre>
      </details>
    </section>
  </div>
</template>

<style scoped>
.wire {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 16px;
}
h3 {
  font-size: 14px;
  margin: 0 0 6px;
}
pre {
  max-height: 320px;
  overflow: auto;
  font-size: 12px;
  margin: 0;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
@media (max-width: 980px) {
  .wire {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
