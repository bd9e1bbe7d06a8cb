<script setup lang="ts">
/** Orders and where they stand; sums of what is filtered. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import type { operations } from '@/api/schema'
import EmptyState from '@/shared/EmptyState.vue'
import ExportLinks from '@/shared/ExportLinks.vue'
import { count, day, figure } from '@/shared/format'
import ListPages from '@/shared/ListPages.vue'
import LoadState from '@/shared/LoadState.vue'
import { me } from '@/shared/session'
import SumBar from '@/shared/SumBar.vue'
import { useFilters } from '@/shared/useFilters'

const router = useRouter()
const { filters, values } = useFilters({ state: '', owner: '', words: '', page: '1' })
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
      <ExportLinks path="/api/orders" :values="values" />
    </div>
    <LoadState v-if="!data" :error="error" :rows="10" @again="refetch()" />
    <section v-else class="card scroll">
      <EmptyState v-if="!data.rows.length" title="No order matches">
        An order is made from an issued quote, when the buyer says yes.
      </EmptyState>
      <table v-else class="list">
        <thead>
          <tr>
            <th>Order</th>
            <th>Customer</th>
            <th>State</th>
            <th>Back office</th>
            <th>Accepted</th>
            <th>Wanted</th>
            <th class="num">Payable</th>
            <th />
            <th v-if="me?.role !== 'rep'">Rep</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="row in data.rows"
            :key="row.id"
            class="goes"
            @click="router.push(`/orders/${row.id}`)"
          >
            <td>
              <RouterLink class="whole" :to="`/orders/${row.id}`" @click.stop>{{
                row.number
              }}</RouterLink>
            </td>
            <td>{{ row.customer }}</td>
            <td :class="{ late: ['refused', 'held'].includes(row.state) }">{{ row.state_name }}</td>
            <td class="soft">{{ row.backoffice_number }}</td>
            <td>{{ day(row.accepted_on) }}</td>
            <td>{{ day(row.requested_on) }}</td>
            <td class="num">{{ figure(row.payable) }}</td>
            <td class="soft">{{ row.currency }}</td>
            <td v-if="me?.role !== 'rep'">{{ row.owner }}</td>
          </tr>
        </tbody>
      </table>
      <ListPages v-model="filters.page.value" :pages="data.pages" />
    </section>
    <SumBar :sums="sums"
      ><span class="hint">{{ data ? count(data.count, 'order') : '' }} in this filter</span></SumBar
    >
  </div>
</template>

<style scoped>
.top {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
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
