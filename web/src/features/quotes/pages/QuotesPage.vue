<script setup lang="ts">
/** Quotes: draft, issued, lapsing, ordered; sums of what is filtered. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import type { operations } from '@/api/schema'
import { me } from '@/api/session'
import FilePanel from '@/features/quotes/panels/FilePanel.vue'
import DayField from '@/kit/form/DayField.vue'
import { day, figure } from '@/kit/format/format'
import { counted, countedHint } from '@/kit/list/counted'
import FindField from '@/kit/list/FindField.vue'
import ListPage from '@/kit/list/ListPage.vue'
import RepFilter from '@/kit/list/RepFilter.vue'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { useColumns } from '@/kit/list/useColumns'
import { useFilters } from '@/kit/list/useFilters'
import { t, tn } from '@/words'

const router = useRouter()
const filing = ref(false)
const { filters, values } = useFilters({
  state: '',
  owner: '',
  words: '',
  since: '',
  until: '',
  sort: '-date',
  page: '1',
})
const columns = useColumns('quotes', () => [
  { key: 'number', label: t('quotes.columns.quote'), sort: 'number', fixed: true, fields: 'number,letter' }, // prettier-ignore
  { key: 'customer', label: t('parts.customer.label'), sort: 'customer' },
  { key: 'deal', label: t('deals.columns.title'), sort: 'deal', extra: true },
  { key: 'state', label: t('list.state') },
  { key: 'on', label: t('quotes.columns.date'), sort: 'date' },
  { key: 'valid_until', label: t('terms.validUntil'), sort: 'valid' },
  { key: 'net', label: t('desk.sums.net'), sort: 'net', num: true },
  { key: 'payable', label: t('quotes.columns.payable'), sort: 'payable', num: true },
  { key: 'currency', label: t('quotes.columns.currency'), soft: true },
  { key: 'order_number', label: t('quotes.columns.order') },
  { key: 'owner', label: t('list.rep'), sort: 'owner', extra: !me.value?.leads },
])
type Query = NonNullable<operations['list_quotes']['parameters']['query']>
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['quotes', values.value]),
  queryFn: ({ signal }) => {
    const given = Object.entries(values.value).filter(([, value]) => value)
    const query = Object.fromEntries(given) as Query
    return take(api.GET('/api/quotes', { params: { query }, signal }))
  },
  placeholderData: (before) => before,
})
/** What the list is narrowed by, for those who go on with what it shows. */
const shownBy = computed(() => {
  const { owner, words, since, until } = values.value
  return Object.fromEntries(
    Object.entries({ owner, words, since, until }).filter(([, value]) => value),
  )
})
const STATES = [
  'draft',
  'issued',
  'lapsing',
  'lapsed',
  'declined',
  'part_ordered',
  'ordered',
] as const
const states = [
  { value: '', label: t('list.all') },
  ...STATES.map((value) => ({
    value,
    label: value === 'lapsing' ? t('quotes.lapsing') : t(`states.quote.${value}`),
  })),
]
const sums = computed(() => [
  { label: t('app.places.quotes'), value: counted(data.value) },
  ...Object.entries(data.value?.sums ?? {}).map(([currency, net]) => ({
    label: t('desk.grid.net', { currency }),
    value: figure(net),
  })),
])
</script>

<template>
  <ListPage
    :id="(row) => row.revision_id"
    v-model:sort="filters.sort.value"
    v-model:page="filters.page.value"
    :title="t('app.places.quotes')"
    place="quotes"
    :values="values"
    :columns="columns"
    :found="data"
    :error="error"
    :stale="isPlaceholderData"
    :to="(row) => `/quotes/${row.revision_id}`"
    :nothing="t('quotes.none')"
    :sums="sums"
    :hint="countedHint(data, (n) => tn('quotes.inFilter', n))"
    @again="refetch()"
    @open="(row) => router.push(`/quotes/${row.revision_id}`)"
  >
    <template #starts>
      <RouterLink
        v-if="values.state === 'lapsing' && data?.rows.length && me?.sells"
        class="btn"
        :to="{ path: '/quotes/remind', query: shownBy }"
        >{{ tn('quotes.remind.to', data.rows.length) }}</RouterLink
      >
      <ElButton :aria-expanded="filing" @click="filing = !filing">{{
        t('quotes.fromFile')
      }}</ElButton>
      <RouterLink class="btn act" to="/customers?for=quote">{{ t('quotes.new') }}</RouterLink>
    </template>
    <template #below>
      <FilePanel v-if="filing" @close="filing = false" @made="refetch()" />
    </template>
    <template #filters>
      <FindField v-model="filters.words.value" :label="t('quotes.find')" />
      <SegmentFilter v-model="filters.state.value" :choices="states" :label="t('list.state')" />
      <RepFilter v-model="filters.owner.value" />
      <DayField
        class="day"
        :model-value="values.since || null"
        :label="t('quotes.since')"
        bare
        small
        clearable
        behind
        :placeholder="t('quotes.since')"
        @update:model-value="(since) => (filters.since.value = since ?? '')"
      />
      <DayField
        class="day"
        :model-value="values.until || null"
        :label="t('quotes.until')"
        bare
        small
        clearable
        behind
        :placeholder="t('quotes.until')"
        @update:model-value="(until) => (filters.until.value = until ?? '')"
      />
    </template>
    <template #nothing>
      <RouterLink to="/customers?for=quote">{{ t('quotes.noneHint') }}</RouterLink>
    </template>
    <template #number="{ row }">{{ row.number }} {{ row.letter }}</template>
    <template #state="{ row }">{{ t(`states.quote.${row.state}`) }}</template>
    <template #on="{ row }">{{ day(row.on) }}</template>
    <template #valid_until="{ row }"
      ><span :class="{ late: row.state === 'lapsed' }">{{ day(row.valid_until) }}</span></template
    >
    <template #net="{ row }">{{ figure(row.net) }}</template>
    <template #payable="{ row }">{{ figure(row.payable) }}</template>
    <template #order_number="{ row }"
      ><RouterLink v-if="row.order_id" :to="`/orders/${row.order_id}`" @click.stop>{{
        row.order_number
      }}</RouterLink></template
    >
  </ListPage>
</template>

<style scoped>
.day {
  width: 124px;
}
</style>
