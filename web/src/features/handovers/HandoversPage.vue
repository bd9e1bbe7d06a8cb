<script setup lang="ts">
/** Orders on their passage to the back office: where each is, why, when it is tried again; and both sides compared. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { clock, figure, moment } from '@/kit/format/format'
import ListPages from '@/kit/list/ListPages.vue'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { useFilters } from '@/kit/list/useFilters'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { maybe, t } from '@/words'
import ComparedCard from './ComparedCard.vue'
import HandoverFold from './HandoverFold.vue'

type Row = Shapes['HandoverRow']
const client = useQueryClient()
const POLL_MS = 5_000
const { filters, values } = useFilters({ state: '', page: '1' })
const { data, error, refetch } = useQuery({
  queryKey: computed(() => ['handovers', values.value]),
  queryFn: ({ signal }) => {
    const state = values.value.state as Row['state'] as never
    const query = { state, page: Number(values.value.page) || 1 }
    return take(api.GET('/api/handovers', { params: { query }, signal }))
  },
  placeholderData: (before) => before,
  refetchInterval: POLL_MS,
})
const { busy, run } = useAct(() => void refetch())
const shown = ref<number | null>(null)
const OPEN = ['waiting', 'under_way', 'refused', 'held'] as const
const choices = computed(() => [
  { value: '', label: t('handovers.open', { n: total.value }) },
  ...OPEN.map((state) => ({
    value: state,
    label: `${maybe(`states.order.${state}`)} ${data.value?.states[state] ?? ''}`.trim(),
  })),
  { value: 'taken', label: t('handovers.taken') },
])
const total = computed(() =>
  Object.values(data.value?.states ?? {}).reduce((sum, many) => sum + many, 0),
)
const mayRepeat = (row: Row) => row.state === 'refused' || row.state === 'waiting'
const again = (row: Row) =>
  run(async () => {
    const params = { path: { handover_id: row.id } }
    await take(
      api.POST('/api/handovers/{handover_id}/again', { params, body: { version: row.version } }),
    )
    await client.invalidateQueries()
    say(t('handovers.sent', { order: row.order }))
  })
</script>

<template>
  <div class="page">
    <header class="top">
      <h1>{{ t('handovers.title') }}</h1>
      <SegmentFilter
        v-model="filters.state.value"
        :choices="choices"
        :label="t('handovers.where')"
      />
      <RouterLink class="btn small" to="/orders/news">{{ t('orders.apart.title') }}</RouterLink>
      <RouterLink class="btn small" to="/back-office">{{ t('sync.title') }}</RouterLink>
    </header>
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <section v-else class="card scroll">
      <EmptyState v-if="!data.rows.length" :title="t('handovers.none')">{{
        t('handovers.noneHint')
      }}</EmptyState>
      <table v-else class="list">
        <thead>
          <tr>
            <th>{{ t('quotes.columns.order') }}</th>
            <th>{{ t('handovers.customer') }}</th>
            <th>{{ t('handovers.stands') }}</th>
            <th>{{ t('handovers.cause') }}</th>
            <th class="num">{{ t('handovers.tries') }}</th>
            <th>{{ t('handovers.next') }}</th>
            <th class="num">{{ t('handovers.payable') }}</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <template v-for="row in data.rows" :key="row.id">
            <tr>
              <td>
                <RouterLink :to="`/orders/${row.order_id}`">{{ row.order }}</RouterLink>
                <small class="soft who">{{ row.owner }}</small>
              </td>
              <td>{{ row.customer }}</td>
              <td>
                <span class="stands" :class="row.state">{{
                  maybe(`states.order.${row.state}`)
                }}</span>
                <small v-if="row.backoffice_number" class="soft who">{{
                  row.backoffice_number
                }}</small>
              </td>
              <td class="why">{{ row.cause }}</td>
              <td class="num">{{ row.tries }}</td>
              <td>
                {{
                  row.state === 'waiting'
                    ? clock(row.next_try_at)
                    : t('handovers.since', { at: moment(row.since) })
                }}
              </td>
              <td class="num">{{ figure(row.payable) }} {{ row.currency }}</td>
              <td class="acts">
                <ElButton
                  size="small"
                  text
                  :aria-expanded="shown === row.id"
                  @click="shown = shown === row.id ? null : row.id"
                  >{{ t('handovers.wire') }}</ElButton
                >
                <ElButton v-if="mayRepeat(row)" size="small" :disabled="busy" @click="again(row)">{{
                  t('handovers.again')
                }}</ElButton>
              </td>
            </tr>
            <tr v-if="shown === row.id">
              <td colspan="8" class="fold"><HandoverFold :id="row.id" /></td>
            </tr>
          </template>
        </tbody>
      </table>
      <ListPages v-model="filters.page.value" :pages="data.pages" />
    </section>
    <ComparedCard />
  </div>
</template>

<style scoped>
.top {
  display: flex;
  gap: 10px 14px;
  align-items: center;
  flex-wrap: wrap;
  margin-bottom: 10px;
}
.top h1 {
  margin-right: auto;
}
.who {
  display: block;
}
.why {
  max-width: 320px;
}
.acts {
  white-space: nowrap;
  text-align: right;
}
.stands {
  padding-left: 8px;
  border-left: 4px solid var(--ink-2);
}
.stands:is(.refused, .held) {
  border-color: var(--red);
}
.stands.taken {
  border-color: var(--teal);
}
</style>
