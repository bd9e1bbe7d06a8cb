<script setup lang="ts">
/** Both sides' orders compared: by day, and each difference with what to do. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { day, figure, moment } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { maybe, t, tn } from '@/words'

const client = useQueryClient()
const SOON_MS = 1_000
const LATER_MS = 30_000
const { data, error, refetch } = useQuery({
  queryKey: ['comparisons'],
  queryFn: ({ signal }) => take(api.GET('/api/comparisons', { signal })),
  refetchInterval: (query) => (query.state.data?.under_way ? SOON_MS : LATER_MS),
})
const { busy, run } = useAct(() => void refetch())
const last = computed(() => data.value?.last ?? null)
const going = computed(() => data.value?.under_way ?? null)
const compare = () =>
  run(async () => {
    client.setQueryData(['comparisons'], await take(api.POST('/api/comparisons')))
  })
/** The back office lost it: it is sent again under its key. */
const sendAgain = (order_id: number) =>
  run(async () => {
    const path = { order_id }
    const order = await take(api.GET('/api/orders/{order_id}', { params: { path } }))
    if (!order.handover) return
    const params = { path: { handover_id: order.handover.id } }
    const body = { version: order.handover.version }
    await take(api.POST('/api/handovers/{handover_id}/again', { params, body }))
    say(t('handovers.sent', { order: order.number }))
    await client.invalidateQueries()
  })
const head = computed(() => {
  const row = last.value
  if (!row) return t('handovers.compare.never')
  const facts = { at: moment(row.finished_at ?? row.asked_at), who: row.by }
  if (row.problem) return t('handovers.compare.failed', facts)
  return row.by ? t('handovers.compare.by', facts) : t('handovers.compare.byNight', facts)
})
</script>

<template>
  <section class="card scroll" aria-live="polite">
    <header>
      <h2>{{ t('handovers.compare.title') }}</h2>
      <span class="soft">{{ head }}</span>
      <ElButton size="small" :loading="busy" :disabled="Boolean(going)" @click="compare">{{
        t('handovers.compare.act')
      }}</ElButton>
    </header>
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <ElProgress
      v-if="going"
      :percentage="going.percent"
      :stroke-width="8"
      :aria-label="t('handovers.compare.going')"
    />
    <template v-if="last && !last.problem">
      <EmptyState
        v-if="!last.differences.length"
        :title="tn('handovers.compare.same', last.orders)"
        >{{ t('handovers.compare.sameHint') }}</EmptyState
      >
      <table v-else class="list">
        <thead>
          <tr>
            <th>{{ t('quotes.columns.order') }}</th>
            <th>{{ t('handovers.compare.what') }}</th>
            <th class="num">{{ t('handovers.compare.ours') }}</th>
            <th class="num">{{ t('handovers.compare.theirs') }}</th>
            <th>{{ t('handovers.compare.todo') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, n) in last.differences" :key="n">
            <td>
              <RouterLink v-if="row.order_id" :to="`/orders/${row.order_id}`">{{
                row.order
              }}</RouterLink>
              <template v-else>{{ row.order }}</template>
              <small v-if="row.line" class="soft">
                {{ t('handovers.compare.line', { line: row.line }) }}</small
              >
            </td>
            <td>
              <b>{{ maybe(`handovers.compare.kinds.${row.what}`) }}</b>
            </td>
            <td class="num">{{ row.ours || '—' }}</td>
            <td class="num">{{ row.theirs || '—' }}</td>
            <td class="soft">
              {{ maybe(`handovers.compare.do.${row.what}`) }}
              <ElButton
                v-if="row.what === 'missing_there' && row.order_id"
                size="small"
                :disabled="busy"
                @click="sendAgain(row.order_id)"
                >{{ t('handovers.again') }}</ElButton
              >
            </td>
          </tr>
        </tbody>
      </table>
      <details v-if="last.days.length">
        <summary>{{ t('handovers.compare.days') }}</summary>
        <table class="list">
          <thead>
            <tr>
              <th>{{ t('handovers.compare.day') }}</th>
              <th class="num">{{ t('app.places.orders') }}</th>
              <th class="num">{{ t('handovers.compare.ours') }}</th>
              <th class="num">{{ t('handovers.compare.theirs') }}</th>
              <th class="num">{{ t('handovers.compare.differing') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in last.days" :key="`${row.day}${row.currency}`">
              <td>{{ day(row.day) }}</td>
              <td class="num">{{ row.orders }}</td>
              <td class="num">{{ figure(row.ours) }} {{ row.currency }}</td>
              <td class="num">{{ figure(row.theirs) }} {{ row.currency }}</td>
              <td class="num">{{ row.differing || '' }}</td>
            </tr>
          </tbody>
        </table>
      </details>
    </template>
  </section>
</template>

<style scoped>
section {
  margin-top: 14px;
}
header {
  flex-wrap: wrap;
}
header .el-button {
  margin-left: auto;
}
details {
  margin-top: 10px;
}
</style>
