<script setup lang="ts">
/** News of the back office that is set apart: why, what it says, and what to do with it. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { moment } from '@/kit/format/format'
import ListPages from '@/kit/list/ListPages.vue'
import { useFilters } from '@/kit/list/useFilters'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import ReasonPanel from '@/kit/step/ReasonPanel.vue'
import { maybe, t } from '@/words'
import { worded } from '@/words/refusals'

type Apart = Shapes['ApartOut']
const client = useQueryClient()
const POLL_MS = 15_000
const { filters, values } = useFilters({ page: '1' })
const { data, error, refetch } = useQuery({
  queryKey: computed(() => ['news', values.value.page]),
  queryFn: ({ signal }) => {
    const query = { page: Number(values.value.page) || 1 }
    return take(api.GET('/api/news', { params: { query }, signal }))
  },
  placeholderData: (before) => before,
  refetchInterval: POLL_MS,
})
const { busy, run } = useAct(() => void refetch())
const leaving = ref<Apart | null>(null)
const shown = ref<number | null>(null)

const kind = (row: Apart) =>
  maybe(`orders.news.${row.kind}`) ?? (row.kind || t('orders.apart.nothingKnown'))
/** The event as it came, laid out to be read. */
function pretty(raw: string): string {
  try {
    return JSON.stringify(JSON.parse(raw), null, 2)
  } catch {
    return raw
  }
}
async function done(words: string): Promise<void> {
  leaving.value = null
  await client.invalidateQueries()
  say(words)
}
const again = (row: Apart) =>
  run(async () => {
    const params = { path: { news_id: row.id } }
    await take(api.POST('/api/news/{news_id}/again', { params, body: { version: row.version } }))
    await done(t('orders.apart.tried'))
  })
const letGo = (row: Apart, reason: string) =>
  run(async () => {
    const params = { path: { news_id: row.id } }
    const body = { version: row.version, reason }
    await take(api.POST('/api/news/{news_id}/let-go', { params, body }))
    await done(t('orders.apart.gone'))
  })
</script>

<template>
  <div class="page">
    <h1>{{ t('orders.apart.title') }}</h1>
    <p class="soft hint">
      {{ t('orders.apart.hint') }}
      <RouterLink to="/back-office">{{ t('sync.title') }}</RouterLink>
    </p>
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <section v-else class="card scroll">
      <EmptyState v-if="!data.rows.length" :title="t('orders.apart.none')">{{
        t('orders.apart.noneHint')
      }}</EmptyState>
      <table v-else class="list">
        <thead>
          <tr>
            <th>{{ t('orders.apart.came') }}</th>
            <th>{{ t('orders.apart.what') }}</th>
            <th>{{ t('quotes.columns.order') }}</th>
            <th>{{ t('orders.apart.why') }}</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <template v-for="row in data.rows" :key="row.id">
            <tr>
              <td class="soft">{{ moment(row.received_at) }}</td>
              <td>
                <b>{{ kind(row) }}</b>
                {{ row.state === 'waiting' ? t('orders.apart.waits') : '' }}
              </td>
              <td>
                <RouterLink v-if="row.order_id" :to="`/orders/${row.order_id}`">{{
                  row.order
                }}</RouterLink>
              </td>
              <td class="why">{{ worded(row.reason) ?? row.reason.message }}</td>
              <td class="acts">
                <ElButton
                  size="small"
                  text
                  :aria-expanded="shown === row.id"
                  @click="shown = shown === row.id ? null : row.id"
                  >{{ t('orders.apart.asItCame') }}</ElButton
                >
                <ElButton size="small" :disabled="busy" @click="again(row)">{{
                  t('orders.apart.again')
                }}</ElButton>
                <ElButton size="small" :disabled="busy" @click="leaving = row">{{
                  t('orders.apart.letGo')
                }}</ElButton>
              </td>
            </tr>
            <tr v-if="shown === row.id">
              <td colspan="5" class="fold">
                <pre>{{ pretty(row.raw) }}</pre>
              </td>
            </tr>
          </template>
        </tbody>
      </table>
      <ListPages v-model="filters.page.value" :pages="data.pages" />
    </section>
    <ReasonPanel
      v-if="leaving"
      :key="leaving.id"
      :title="t('orders.apart.letGoTitle', { what: kind(leaving) })"
      :act="t('orders.apart.letGoAct')"
      :label="t('orders.apart.letGoWhy')"
      :busy="busy"
      @close="leaving = null"
      @go="(reason) => leaving && letGo(leaving, reason)"
    />
  </div>
</template>

<style scoped>
/* No sums at the foot here: a panel stands on the edge. */
.page {
  --bar-height: 0px;
}
.acts .el-button + .el-button {
  margin-left: 8px;
}
.hint {
  margin: 4px 0 10px;
}
.why {
  white-space: normal;
}
.acts {
  text-align: right;
  white-space: nowrap;
}
pre {
  margin: 0;
  max-height: 40vh;
  overflow: auto;
  font-size: 12px;
}
</style>
