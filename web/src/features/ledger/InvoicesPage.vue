<script setup lang="ts">
/** Invoices and credit notes of all customers; what they come to without tax. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import type { operations } from '@/api/schema'
import { me } from '@/api/session'
import { day, figure, monthOf } from '@/kit/format/format'
import { counted, countedHint } from '@/kit/list/counted'
import FindField from '@/kit/list/FindField.vue'
import ListPage from '@/kit/list/ListPage.vue'
import RepFilter from '@/kit/list/RepFilter.vue'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { useColumns } from '@/kit/list/useColumns'
import { useFilters } from '@/kit/list/useFilters'
import CustomerFilter from '@/parts/customer/CustomerFilter.vue'
import { maybe, t, tn } from '@/words'

const router = useRouter()
const { filters, values } = useFilters({
  state: '',
  month: '',
  owner: '',
  team: '',
  customer: '',
  family: '',
  words: '',
  sort: '-on',
  page: '1',
})
const base = computed(() => me.value?.base_currency ?? '')
const columns = useColumns('invoices', () => [
  { key: 'number', label: t('revenue.list.number'), sort: 'number', fixed: true },
  { key: 'customer', label: t('parts.customer.label'), sort: 'customer' },
  { key: 'order', label: t('quotes.columns.order') },
  { key: 'on', label: t('revenue.list.date'), sort: 'on' },
  { key: 'due_on', label: t('revenue.list.due'), sort: 'due' },
  { key: 'state', label: t('list.state') },
  { key: 'gross', label: t('revenue.list.gross'), num: true },
  { key: 'open', label: t('revenue.list.open'), sort: 'open', num: true },
  { key: 'currency', label: t('revenue.list.currency'), soft: true },
  { key: 'worth', label: t('revenue.list.net', { currency: base.value }), num: true },
])
type Query = NonNullable<operations['list_invoices']['parameters']['query']>
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['invoices', values.value]),
  queryFn: ({ signal }) => {
    const given = Object.entries(values.value).filter(([, value]) => value)
    return take(
      api.GET('/api/invoices', { params: { query: Object.fromEntries(given) as Query }, signal }),
    )
  },
  placeholderData: (before) => before,
})
const states = [
  { value: '', label: t('revenue.list.states.all') },
  { value: 'open', label: t('revenue.list.states.open') },
  { value: 'late', label: t('revenue.list.states.late') },
]
const sums = computed(() => {
  const found = data.value
  if (!found) return []
  const count = { label: t('revenue.list.invoices'), value: counted(found) }
  if (found.sum === null) return [count]
  const label = t('revenue.list.net', { currency: found.base })
  return [count, { label, value: figure(found.sum), main: true }]
})
const inMonth = computed(() => (values.value.month ? monthOf(values.value.month) : ''))
</script>

<template>
  <ListPage
    :id="(row) => row.id"
    v-model:sort="filters.sort.value"
    v-model:page="filters.page.value"
    :title="t('revenue.list.invoices')"
    place="invoices"
    :values="values"
    :columns="columns"
    :found="data"
    :error="error"
    :stale="isPlaceholderData"
    :to="(row) => `/invoices/${row.id}`"
    :nothing="t('revenue.list.none')"
    :sums="sums"
    :hint="countedHint(data, (n) => tn('revenue.list.inFilter', n))"
    @again="refetch()"
    @open="(row) => router.push(`/invoices/${row.id}`)"
  >
    <template #filters>
      <FindField v-model="filters.words.value" :label="t('revenue.list.find')" />
      <SegmentFilter v-model="filters.state.value" :choices="states" :label="t('list.state')" />
      <RepFilter v-model="filters.owner.value" v-model:team="filters.team.value" />
      <CustomerFilter v-model="filters.customer.value" v-model:family="filters.family.value" />
      <ElButton v-if="inMonth" size="small" @click="filters.month.value = ''"
        >{{ t('revenue.list.inMonth', { month: inMonth }) }} ×</ElButton
      >
    </template>
    <template #nothing>{{ t('revenue.list.noneHint') }}</template>
    <template #order="{ row }"
      ><RouterLink v-if="row.order_id" :to="`/orders/${row.order_id}`">{{
        row.order
      }}</RouterLink></template
    >
    <template #on="{ row }">{{ day(row.on) }}</template>
    <template #due_on="{ row }"
      ><span :class="{ late: row.late }">{{ day(row.due_on) }}</span></template
    >
    <template #state="{ row }">{{ maybe(`states.invoice.${row.state}`) }}</template>
    <template #gross="{ row }">{{ figure(row.gross) }}</template>
    <template #open="{ row }">{{ figure(row.open) }}</template>
    <template #worth="{ row }">{{ figure(row.worth) }}</template>
  </ListPage>
</template>
