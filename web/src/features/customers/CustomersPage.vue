<script setup lang="ts">
/** Find a customer; the standing shows before the sheet is opened. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import { me } from '@/api/session'
import { useAct } from '@/kit/act/useAct'
import { figure, isNothing } from '@/kit/format/format'
import FindField from '@/kit/list/FindField.vue'
import ListPage from '@/kit/list/ListPage.vue'
import RepFilter from '@/kit/list/RepFilter.vue'
import { useColumns } from '@/kit/list/useColumns'
import { useFilters } from '@/kit/list/useFilters'
import NewCustomer from '@/parts/customer/NewCustomer.vue'
import StandingReasons from '@/parts/customer/StandingReasons.vue'
import VerdictMark from '@/kit/show/VerdictMark.vue'
import { t, tn } from '@/words'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { DAYS, useCustomers } from './queries'

const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const { run } = useAct()
const making = ref(false)
const forQuote = computed(() => route.query.for === 'quote')
const { filters, values } = useFilters({
  words: '',
  owner: '',
  day: '',
  sort: 'name',
  page: '1',
  for: '',
})
const days = DAYS.map((value) => ({
  value,
  label: t(`customers.day.${value || 'all'}`),
}))
const columns = useColumns('customers', () => [
  { key: 'verdict', label: t('customers.columns.standing') },
  { key: 'name', label: t('parts.customer.label'), sort: 'name', fixed: true },
  { key: 'number', label: t('customers.columns.number'), sort: 'number', soft: true },
  { key: 'reasons', label: t('customers.columns.why'), extra: me.value?.sells && !me.value?.leads },
  { key: 'exposure', label: t('customers.group.exposure'), num: true, extra: true },
  { key: 'kind', label: t('customers.columns.kind'), sort: 'kind' },
  { key: 'town', label: t('customers.columns.town'), sort: 'town' },
  { key: 'contact', label: t('deals.form.contact') },
  { key: 'balance', label: t('customers.columns.open', { currency: me.value?.base_currency ?? '' }), num: true }, // prettier-ignore
  { key: 'overdue', label: t('customers.columns.overdue'), num: true },
  { key: 'limit', label: t('customers.columns.limit'), sort: 'limit', num: true },
  { key: 'owner', label: t('list.rep'), sort: 'owner', extra: !me.value?.leads },
])
const { data, error, refetch, isPlaceholderData } = useCustomers(values)

/** Open the customer, or start the quote that one is chosen for: once. */
const open = (id: number) =>
  run(async () => {
    if (!forQuote.value) {
      await router.push(`/customers/${id}`)
      return
    }
    const made = await take(api.POST('/api/quotes', { body: { customer_id: id } }))
    void client.invalidateQueries()
    await router.push(`/quotes/${made.id}`)
  })
/** A customer was made, or found to be there already: on with what was to be done. */
function chosen(id: number): void {
  making.value = false
  void client.invalidateQueries({ queryKey: ['customers'] })
  void open(id)
}
</script>

<template>
  <ListPage
    :id="(row) => row.id"
    v-model:sort="filters.sort.value"
    v-model:page="filters.page.value"
    :title="forQuote ? t('customers.forQuote') : t('app.places.customers')"
    place="customers"
    :values="values"
    :columns="columns"
    :found="data"
    :error="error"
    :stale="isPlaceholderData"
    :to="(row) => `/customers/${row.id}`"
    :acts="forQuote"
    :nothing="t('customers.none')"
    @again="refetch()"
    @open="(row) => open(row.id)"
  >
    <template #head>
      <p class="soft">{{ data ? tn('customers.count', data.count) : '' }}</p>
    </template>
    <template #starts>
      <ElButton v-if="me?.sells" size="small" :aria-expanded="making" @click="making = !making">{{
        t('customers.make')
      }}</ElButton>
      <RouterLink v-if="me?.sells && !forQuote" class="btn small" to="/agreements">{{
        t('ahead.agreements.title')
      }}</RouterLink>
      <RouterLink v-if="me?.sells && !forQuote" class="btn small" to="/customers/file">{{
        t('customers.file.open')
      }}</RouterLink>
    </template>
    <template #below>
      <NewCustomer v-if="making" @chosen="chosen" @close="making = false" />
    </template>
    <template #filters>
      <FindField v-model="filters.words.value" class="wide" :label="t('customers.find')" />
      <SegmentFilter
        v-model="filters.day.value"
        :choices="days"
        :label="t('customers.day.label')"
      />
      <RepFilter v-model="filters.owner.value" />
    </template>
    <template #nothing>
      <i18n-t keypath="customers.noneHint" scope="global">
        <RouterLink to="/deals/new">{{ t('customers.deal') }}</RouterLink>
      </i18n-t>
    </template>
    <template #verdict="{ row }"
      ><span class="verdict"
        ><VerdictMark :verdict="row.verdict" :size="16" />
        {{ t(`words.verdicts.${row.verdict}`) }}</span
      ></template
    >
    <template #reasons="{ row }"
      ><StandingReasons
        class="why"
        :standing="{ reasons: row.reasons, currency: me?.base_currency ?? '' }"
    /></template>
    <template #exposure="{ row }">{{ figure(row.exposure) }}</template>
    <template #balance="{ row }">{{ figure(row.balance) }}</template>
    <template #overdue="{ row }"
      ><span :class="{ late: !isNothing(row.overdue) }">{{ figure(row.overdue) }}</span></template
    >
    <template #limit="{ row }">{{
      row.limit ? figure(row.limit) : t('customers.notSet')
    }}</template>
  </ListPage>
</template>

<style scoped>
.wide {
  width: 320px;
}
.why {
  font-size: 12px;
  line-height: 1.3;
  padding: 4px 0;
}
.verdict {
  white-space: nowrap;
}
.verdict svg {
  vertical-align: -3px;
}
</style>
