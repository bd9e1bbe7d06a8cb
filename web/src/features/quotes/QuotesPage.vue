<script setup lang="ts">
/** Quotes: draft, issued, lapsing, ordered; sums of what is filtered. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
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
import FilePanel from './FilePanel.vue'

const router = useRouter()
const filing = ref(false)
const { filters, values } = useFilters({ state: '', owner: '', words: '', page: '1' })
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
        placeholder="Find by number, customer or deal"
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
      <ExportLinks path="/api/quotes" :values="values" />
    </div>
    <LoadState v-if="!data" :error="error" :rows="10" @again="refetch()" />
    <section v-else class="card scroll">
      <EmptyState v-if="!data.rows.length" title="No quote matches">
        Start one from a deal, or <RouterLink to="/customers?for=quote">for a customer</RouterLink>.
      </EmptyState>
      <table v-else class="list">
        <thead>
          <tr>
            <th>Quote</th>
            <th>Customer</th>
            <th>State</th>
            <th>Date</th>
            <th>Valid until</th>
            <th class="num">Net</th>
            <th class="num">Payable</th>
            <th />
            <th>Order</th>
            <th v-if="me?.leads">Rep</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="row in data.rows"
            :key="row.revision_id"
            class="goes"
            @click="router.push(`/quotes/${row.revision_id}`)"
          >
            <td>
              <RouterLink class="whole" :to="`/quotes/${row.revision_id}`" @click.stop
                >{{ row.number }} {{ row.letter }}</RouterLink
              >
            </td>
            <td>{{ row.customer }}</td>
            <td>{{ STATES[row.state] }}</td>
            <td>{{ day(row.on) }}</td>
            <td :class="{ late: row.state === 'lapsed' }">{{ day(row.valid_until) }}</td>
            <td class="num">{{ figure(row.net) }}</td>
            <td class="num">{{ figure(row.payable) }}</td>
            <td class="soft">{{ row.currency }}</td>
            <td>
              <RouterLink v-if="row.order_id" :to="`/orders/${row.order_id}`" @click.stop>{{
                row.order_number
              }}</RouterLink>
            </td>
            <td v-if="me?.leads">{{ row.owner }}</td>
          </tr>
        </tbody>
      </table>
      <ListPages v-model="filters.page.value" :pages="data.pages" />
    </section>
    <SumBar :sums="sums"
      ><span class="hint">{{ data ? count(data.count, 'quote') : '' }} in this filter</span></SumBar
    >
  </div>
</template>

<style scoped>
.top {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
}
.starts {
  display: flex;
  gap: 8px;
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
