<script setup lang="ts">
/** The backlog: lines that are ordered and not invoiced yet, by the day on which they leave. */
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
import { useColumns } from '@/kit/list/useColumns'
import { useFilters } from '@/kit/list/useFilters'
import CustomerFilter from '@/parts/customer/CustomerFilter.vue'
import { t, tn } from '@/words'

const router = useRouter()
const { filters, values } = useFilters({
  month: '',
  owner: '',
  team: '',
  customer: '',
  family: '',
  words: '',
  sort: 'leaves',
  page: '1',
})
const base = computed(() => me.value?.base_currency ?? '')
const columns = useColumns('backlog', () => [
  { key: 'order', label: t('quotes.columns.order'), sort: 'order', fixed: true },
  { key: 'customer', label: t('parts.customer.label'), sort: 'customer' },
  { key: 'item', label: t('revenue.list.item'), soft: true },
  { key: 'text', label: t('revenue.list.text') },
  { key: 'quantity', label: t('revenue.list.quantity'), num: true },
  { key: 'unit', label: t('revenue.list.unit'), soft: true },
  { key: 'leaves', label: t('revenue.list.leaves'), sort: 'leaves' },
  { key: 'worth', label: t('revenue.list.worth', { currency: base.value }), sort: 'worth', num: true }, // prettier-ignore
])
type Query = NonNullable<operations['list_backlog']['parameters']['query']>
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['backlog', values.value]),
  queryFn: ({ signal }) => {
    const given = Object.entries(values.value).filter(([, value]) => value)
    return take(
      api.GET('/api/backlog', { params: { query: Object.fromEntries(given) as Query }, signal }),
    )
  },
  placeholderData: (before) => before,
})
const sums = computed(() => {
  const found = data.value
  if (!found) return []
  const count = { label: t('revenue.list.backlog'), value: counted(found) }
  if (found.sum === null) return [count]
  const label = t('revenue.list.worth', { currency: found.base })
  return [count, { label, value: figure(found.sum), main: true }]
})
const inMonth = computed(() => {
  const { month } = values.value
  if (month === 'later') return t('revenue.later')
  return month === 'undated' ? t('revenue.undated') : month ? monthOf(month) : ''
})
</script>

<template>
  <ListPage
    :id="(row) => row.id"
    v-model:sort="filters.sort.value"
    v-model:page="filters.page.value"
    :title="t('revenue.list.backlog')"
    place="backlog"
    :values="values"
    :columns="columns"
    :found="data"
    :error="error"
    :stale="isPlaceholderData"
    :to="(row) => `/orders/${row.order_id}`"
    :nothing="t('revenue.list.noBacklog')"
    :sums="sums"
    :hint="countedHint(data, (n) => tn('revenue.list.lines', n))"
    @again="refetch()"
    @open="(row) => router.push(`/orders/${row.order_id}`)"
  >
    <template #head
      ><p class="soft">{{ t('revenue.list.backlogIs') }}</p></template
    >
    <template #filters>
      <FindField v-model="filters.words.value" :label="t('revenue.list.find')" />
      <RepFilter v-model="filters.owner.value" v-model:team="filters.team.value" />
      <CustomerFilter v-model="filters.customer.value" v-model:family="filters.family.value" />
      <ElButton v-if="inMonth" size="small" @click="filters.month.value = ''"
        >{{ inMonth }} ×</ElButton
      >
    </template>
    <template #nothing>{{ t('revenue.list.noneHint') }}</template>
    <template #quantity="{ row }">{{ figure(row.quantity) }}</template>
    <template #leaves="{ row }"
      ><span :class="{ late: row.late || row.leaves === null }">{{
        row.leaves === null ? t('revenue.undated') : day(row.leaves)
      }}</span></template
    >
    <template #worth="{ row }">{{ figure(row.worth) }}</template>
  </ListPage>
</template>
