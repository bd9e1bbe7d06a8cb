<script setup lang="ts">
/** Orders and where they stand; sums of what is filtered. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import type { operations } from '@/api/schema'
import { me } from '@/api/session'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import { day, figure } from '@/kit/format/format'
import { counted, countedHint } from '@/kit/list/counted'
import FindField from '@/kit/list/FindField.vue'
import ListPage from '@/kit/list/ListPage.vue'
import RepFilter from '@/kit/list/RepFilter.vue'
import { useColumns } from '@/kit/list/useColumns'
import { useFilters } from '@/kit/list/useFilters'
import { maybe, t, tn } from '@/words'

const router = useRouter()
const { filters, values } = useFilters({
  state: '',
  owner: '',
  words: '',
  sort: '-accepted',
  page: '1',
})
const columns = useColumns('orders', () => [
  { key: 'number', label: t('quotes.columns.order'), sort: 'number', fixed: true },
  { key: 'customer', label: t('parts.customer.label'), sort: 'customer' },
  { key: 'state', label: t('list.state') },
  { key: 'backoffice_number', label: t('orders.columns.office'), soft: true },
  { key: 'accepted_on', label: t('orders.columns.accepted'), sort: 'accepted' },
  { key: 'requested_on', label: t('orders.columns.wanted'), sort: 'wanted' },
  { key: 'leaves_on', label: t('orders.columns.leaves'), sort: 'leaves' },
  { key: 'payable', label: t('quotes.columns.payable'), sort: 'payable', num: true },
  { key: 'currency', label: t('quotes.columns.currency'), soft: true },
  { key: 'owner', label: t('list.rep'), sort: 'owner', extra: !me.value?.leads },
])
const POLL_MS = 10_000
type Query = NonNullable<operations['list_orders']['parameters']['query']>
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['orders', values.value]),
  queryFn: ({ signal }) => {
    const given = Object.entries(values.value).filter(([, value]) => value)
    return take(
      api.GET('/api/orders', { params: { query: Object.fromEntries(given) as Query }, signal }),
    )
  },
  placeholderData: (before) => before,
  refetchInterval: POLL_MS,
})
const STATES = [
  ...(['ready', 'waiting', 'stumbled', 'held', 'way', 'this_week', 'late'] as const),
  ...(['part_delivered', 'delivered', 'unbilled', 'paid', 'cancelled'] as const),
]
const states = [
  { value: '', label: t('list.all') },
  ...STATES.map((value) => ({ value, label: t(`orders.states.${value}`) })),
]
const sums = computed(() => [
  { label: t('app.places.orders'), value: counted(data.value) },
  ...Object.entries(data.value?.sums ?? {}).map(([currency, payable]) => ({
    label: t('desk.sums.payable', { currency }),
    value: figure(payable),
  })),
])
</script>

<template>
  <ListPage
    :id="(row) => row.id"
    v-model:sort="filters.sort.value"
    v-model:page="filters.page.value"
    :title="t('app.places.orders')"
    place="orders"
    :values="values"
    :columns="columns"
    :found="data"
    :error="error"
    :stale="isPlaceholderData"
    :to="(row) => `/orders/${row.id}`"
    :nothing="t('orders.none')"
    :sums="sums"
    :hint="countedHint(data, (n) => tn('orders.inFilter', n))"
    @again="refetch()"
    @open="(row) => router.push(`/orders/${row.id}`)"
  >
    <template #starts>
      <RouterLink v-if="me?.fulfils" class="btn small" to="/handovers">{{
        t('handovers.title')
      }}</RouterLink>
      <RouterLink v-if="me?.fulfils" class="btn small" to="/orders/news">{{
        t('orders.apart.link')
      }}</RouterLink>
    </template>
    <template #filters>
      <FindField v-model="filters.words.value" :label="t('orders.find')" />
      <ChoiceField
        v-model="filters.state.value"
        class="state"
        :choices="states"
        :label="t('list.state')"
        bare
        small
      />
      <RepFilter v-model="filters.owner.value" />
    </template>
    <template #nothing>{{ t('orders.noneHint') }}</template>
    <template #state="{ row }"
      ><span :class="{ late: ['refused', 'held'].includes(row.state) }">{{
        maybe(`states.order.${row.state}`)
      }}</span></template
    >
    <template #accepted_on="{ row }">{{ day(row.accepted_on) }}</template>
    <template #requested_on="{ row }">{{ day(row.requested_on) }}</template>
    <template #leaves_on="{ row }"
      ><span :class="{ late: row.late }">{{ day(row.leaves_on) }}</span></template
    >
    <template #payable="{ row }">{{ figure(row.payable) }}</template>
  </ListPage>
</template>

<style scoped>
.state {
  width: 210px;
  margin: 0;
}
</style>
