<script setup lang="ts">
/** Orders and where they stand; sums of what is filtered. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
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

const router = useRouter()
const { filters, values } = useFilters({
  state: '',
  owner: '',
  words: '',
  sort: '-accepted',
  page: '1',
})
const columns = useColumns('orders', () => [
  { key: 'number', label: 'Order', sort: 'number', fixed: true },
  { key: 'customer', label: 'Customer', sort: 'customer' },
  { key: 'state_name', label: 'State' },
  { key: 'backoffice_number', label: 'Back office', soft: true },
  { key: 'accepted_on', label: 'Accepted', sort: 'accepted' },
  { key: 'requested_on', label: 'Wanted', sort: 'wanted' },
  { key: 'payable', label: 'Payable', sort: 'payable', num: true },
  { key: 'currency', label: 'Currency', soft: true },
  { key: 'owner', label: 'Rep', sort: 'owner', extra: me.value?.role === 'rep' },
])
type Query = NonNullable<operations['list_orders']['parameters']['query']>
const { data, error, refetch } = useQuery({
  queryKey: computed(() => ['orders', values.value]),
  queryFn: () =>
    take(
      api.GET('/api/orders', {
        params: {
          query: Object.fromEntries(
            Object.entries(values.value).filter(([, value]) => value),
          ) as Query,
        },
      }),
    ),
  placeholderData: (before) => before,
  refetchInterval: 10_000,
})
const STATES: Record<string, string> = {
  '': 'All',
  way: 'Under way',
  ready: 'To hand over',
  stumbled: 'Stumbled',
  paid: 'Paid',
}
const sums = computed(() => [
  { label: 'Orders', value: String(data.value?.count ?? '') },
  ...Object.entries(data.value?.sums ?? {}).map(([currency, payable]) => ({
    label: `Payable ${currency}`,
    value: figure(payable),
  })),
])
</script>

<template>
  <div class="page with-bar">
    <header class="top">
      <h1>Orders</h1>
      <ListTools place="orders" :values="values" :columns="columns" />
    </header>
    <div class="chips">
      <input
        v-model.lazy="filters.words.value"
        class="input find"
        type="search"
        aria-label="Find by number, customer or reference"
        placeholder="Find by number, customer or reference"
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
    </div>
    <ListSheet
      :id="(row) => row.id"
      v-model:sort="filters.sort.value"
      v-model:page="filters.page.value"
      :columns="columns.seen.value"
      :rows="data?.rows"
      :pages="data?.pages ?? 1"
      :error="error"
      :to="(row) => `/orders/${row.id}`"
      nothing="No order matches"
      @again="refetch()"
      @open="(row) => router.push(`/orders/${row.id}`)"
    >
      <template #nothing>
        An order is made from an issued quote, when the buyer says yes.
      </template>
      <template #state_name="{ row }"
        ><span :class="{ late: ['refused', 'held'].includes(row.state) }">{{
          row.state_name
        }}</span></template
      >
      <template #accepted_on="{ row }">{{ day(row.accepted_on) }}</template>
      <template #requested_on="{ row }">{{ day(row.requested_on) }}</template>
      <template #payable="{ row }">{{ figure(row.payable) }}</template>
    </ListSheet>
    <SumBar :sums="sums"
      ><span class="hint">{{ data ? count(data.count, 'order') : '' }} in this filter</span></SumBar
    >
  </div>
</template>

<style scoped>
.top {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
}
.chips {
  margin: 10px 0;
}
.find {
  width: 270px;
}
.pick {
  width: auto;
}
.hint {
  color: var(--on-bar-2);
}
</style>
