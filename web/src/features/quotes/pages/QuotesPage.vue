<script setup lang="ts">
/** Quotes: draft, issued, lapsing, ordered; sums of what is filtered. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import type { operations } from '@/api/schema'
import { count, day, figure } from '@/kit/format/format'
import ListSheet from '@/kit/list/ListSheet.vue'
import ListTools from '@/kit/list/ListTools.vue'
import { me } from '@/api/session'
import SumBar from '@/kit/show/SumBar.vue'
import { useColumns } from '@/kit/list/useColumns'
import { useFilters } from '@/kit/list/useFilters'
import FilePanel from '@/features/quotes/panels/FilePanel.vue'

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
  { key: 'number', label: 'Quote', sort: 'number', fixed: true, fields: 'number,letter' },
  { key: 'customer', label: 'Customer', sort: 'customer' },
  { key: 'deal', label: 'Deal', sort: 'deal', extra: true },
  { key: 'state', label: 'State' },
  { key: 'on', label: 'Date', sort: 'date' },
  { key: 'valid_until', label: 'Valid until', sort: 'valid' },
  { key: 'net', label: 'Net', sort: 'net', num: true },
  { key: 'payable', label: 'Payable', sort: 'payable', num: true },
  { key: 'currency', label: 'Currency', soft: true },
  { key: 'order_number', label: 'Order' },
  { key: 'owner', label: 'Rep', sort: 'owner', extra: !me.value?.leads },
])
type Query = NonNullable<operations['list_quotes']['parameters']['query']>
const { data, error, refetch } = useQuery({
  queryKey: computed(() => ['quotes', values.value]),
  queryFn: () =>
    take(
      api.GET('/api/quotes', {
        params: {
          query: Object.fromEntries(
            Object.entries(values.value).filter(([, value]) => value),
          ) as Query,
        },
      }),
    ),
  placeholderData: (before) => before,
})
const STATES: Record<string, string> = {
  '': 'All',
  draft: 'Draft',
  issued: 'Issued',
  lapsing: 'About to lapse',
  lapsed: 'Lapsed',
  declined: 'Declined',
  ordered: 'Ordered',
}
const sums = computed(() => [
  { label: 'Quotes', value: String(data.value?.count ?? '') },
  ...Object.entries(data.value?.sums ?? {}).map(([currency, net]) => ({
    label: `Net ${currency}`,
    value: figure(net),
  })),
])
</script>

<template>
  <div class="page with-bar">
    <header class="top">
      <h1>Quotes</h1>
      <ListTools place="quotes" :values="values" :columns="columns" />
      <span class="starts">
        <button class="btn" :aria-expanded="filing" @click="filing = !filing">From a file…</button>
        <RouterLink class="btn act" to="/customers?for=quote">New quote</RouterLink>
      </span>
    </header>
    <FilePanel v-if="filing" @close="filing = false" @made="refetch()" />
    <div class="chips">
      <input
        v-model.lazy="filters.words.value"
        class="input find"
        type="search"
        aria-label="Find by number, customer or deal"
        placeholder="Number, customer or deal"
      />
      <button
        v-for="(name, key) in STATES"
        :key="key"
        class="btn small"
        :aria-pressed="values.state === key"
        @click="filters.state.value = key"
      >
        {{ name }}
      </button>
      <select v-if="me?.leads" v-model="filters.owner.value" class="input pick" aria-label="Rep">
        <option value="">The whole team</option>
        <option v-for="p in me.people" :key="p.id" :value="String(p.id)">{{ p.name }}</option>
      </select>
      <span class="span"
        ><input v-model="filters.since.value" class="input" type="date" aria-label="From the day" />
        to
        <input v-model="filters.until.value" class="input" type="date" aria-label="To the day"
      /></span>
    </div>
    <ListSheet
      :id="(row) => row.revision_id"
      v-model:sort="filters.sort.value"
      v-model:page="filters.page.value"
      :columns="columns.seen.value"
      :rows="data?.rows"
      :pages="data?.pages ?? 1"
      :error="error"
      :to="(row) => `/quotes/${row.revision_id}`"
      nothing="No quote matches"
      @again="refetch()"
      @open="(row) => router.push(`/quotes/${row.revision_id}`)"
    >
      <template #nothing>
        Start one from a deal, or <RouterLink to="/customers?for=quote">for a customer</RouterLink>.
      </template>
      <template #number="{ row }">{{ row.number }} {{ row.letter }}</template>
      <template #state="{ row }">{{ STATES[row.state] }}</template>
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
    </ListSheet>
    <SumBar :sums="sums"
      ><span class="hint">{{ data ? count(data.count, 'quote') : '' }} in this filter</span></SumBar
    >
  </div>
</template>

<style scoped>
.top {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 12px;
}
.starts {
  display: flex;
  gap: 8px;
}
.chips {
  margin: 10px 0;
}
.find {
  width: 230px;
}
.pick {
  width: auto;
}
.span {
  display: flex;
  align-items: center;
  gap: 6px;
  color: var(--ink-2);
  font-size: 12px;
}
.span .input {
  width: 124px;
}
.hint {
  color: var(--on-bar-2);
}
</style>
