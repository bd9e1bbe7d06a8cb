<script setup lang="ts">
/** What they buy most: this year against last, to the same day. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { day, figure, size } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'

const props = defineProps<{ customer: number }>()
const { data, error, refetch } = useQuery({
  queryKey: ['customer', props.customer, 'items'],
  queryFn: ({ signal }) =>
    take(
      api.GET('/api/customers/{customer_id}/items', {
        params: { path: { customer_id: props.customer } },
        signal,
      }),
    ),
})
type Row = Shapes['TopItem']
const rows = computed(() => [
  ...(data.value?.rows ?? []),
  ...(data.value?.others ? [{ ...data.value.others, name: t('customers.top.others') }] : []),
])
const widest = computed(() =>
  Math.max(1, ...rows.value.flatMap((row) => [size(row.now), size(row.before)])),
)
const wide = (amount: string) => `${(Math.max(0, size(amount)) / widest.value) * 100}%`
const change = (row: Row) =>
  row.change === null ? t('customers.top.fresh') : `${size(row.change) > 0 ? '+' : ''}${figure(row.change)} %` // prettier-ignore
/** The invoices that bill an item, from the first of January to a day. */
const billed = (row: Row, until: string) => ({
  query: { kind: 'invoice', words: row.name, since: `${until.slice(0, 4)}-01-01`, until },
  hash: '#documents',
})
const lost = (row: Row) => row.change !== null && size(row.change) < 0
</script>

<template>
  <section class="card" :aria-label="t('customers.top.title')">
    <header>
      <h2>{{ t('customers.top.title') }}</h2>
      <span v-if="data" class="soft">{{
        t('customers.top.hint', {
          until: day(data.until),
          before: day(data.until_before),
          currency: data.currency,
        })
      }}</span>
    </header>
    <LoadState v-if="!data" :error="error" :rows="5" @again="refetch()" />
    <EmptyState v-else-if="!rows.length" :title="t('customers.top.none')">{{
      t('customers.top.noneHint')
    }}</EmptyState>
    <div v-else class="scroll">
      <table class="list">
        <thead>
          <tr>
            <th>{{ t('customers.top.item') }}</th>
            <th class="bars" />
            <th class="num">{{ t('customers.top.now') }}</th>
            <th class="num">{{ t('customers.top.before') }}</th>
            <th class="num">{{ t('customers.top.change') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.code">
            <td>
              <RouterLink v-if="row.item_id" :to="`/items/${row.item_id}?customer=${customer}`">{{
                row.name
              }}</RouterLink>
              <span v-else class="soft">{{ row.name }}</span>
            </td>
            <td class="bars" aria-hidden="true">
              <i class="now" :style="{ width: wide(row.now) }" />
              <i class="before" :style="{ width: wide(row.before) }" />
            </td>
            <td class="num">
              <RouterLink v-if="row.code" :to="billed(row, data.until)">{{
                figure(row.now)
              }}</RouterLink>
              <template v-else>{{ figure(row.now) }}</template>
            </td>
            <td class="num soft">
              <RouterLink v-if="row.code" :to="billed(row, data.until_before)">{{
                figure(row.before)
              }}</RouterLink>
              <template v-else>{{ figure(row.before) }}</template>
            </td>
            <td class="num" :class="{ late: lost(row) }">{{ change(row) }}</td>
          </tr>
        </tbody>
        <tfoot>
          <tr>
            <th colspan="2">{{ t('customers.top.all') }}</th>
            <td class="num">{{ figure(data.total.now) }}</td>
            <td class="num">{{ figure(data.total.before) }}</td>
            <td class="num" :class="{ late: lost(data.total) }">{{ change(data.total) }}</td>
          </tr>
        </tfoot>
      </table>
    </div>
  </section>
</template>

<style scoped>
.bars {
  width: 30%;
}
.bars i {
  display: block;
  height: 6px;
  margin: 1px 0;
}
.now {
  background: var(--teal);
}
.before {
  background: var(--stop-ahead);
}
tfoot :is(td, th) {
  font-size: inherit;
  font-weight: 700;
  color: var(--ink);
  border-top: 1.5px solid var(--ink);
  border-bottom: 0;
}
</style>
