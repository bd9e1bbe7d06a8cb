<script setup lang="ts">
/** Find a customer; the standing shows before the sheet is opened. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import EmptyState from '@/shared/EmptyState.vue'
import ExportLinks from '@/shared/ExportLinks.vue'
import { count, figure } from '@/shared/format'
import ListPages from '@/shared/ListPages.vue'
import LoadState from '@/shared/LoadState.vue'
import { complain } from '@/shared/notices'
import { me } from '@/shared/session'
import SortHead from '@/shared/SortHead.vue'
import { useFilters } from '@/shared/useFilters'
import VerdictMark from '@/shared/VerdictMark.vue'

const route = useRoute()
const router = useRouter()
const forQuote = computed(() => route.query.for === 'quote')
const { filters, values } = useFilters({ words: '', owner: '', sort: 'name', page: '1', for: '' })
const { data, error, refetch } = useQuery({
  queryKey: computed(() => ['customers', values.value]),
  queryFn: () =>
    take(
      api.GET('/api/customers', {
        params: {
          query: {
            words: values.value.words,
            owner: values.value.owner ? Number(values.value.owner) : undefined,
            sort: values.value.sort as 'name',
            page: Number(values.value.page),
          },
        },
      }),
    ),
  placeholderData: (before) => before,
})
const WORDS: Record<string, string> = { clear: 'Clear', caution: 'Caution', halt: 'Halt' }

async function open(id: number): Promise<void> {
  if (!forQuote.value) {
    await router.push(`/customers/${id}`)
    return
  }
  try {
    const made = await take(api.POST('/api/quotes', { body: { customer_id: id } }))
    await router.push(`/quotes/${made.id}`)
  } catch (fault) {
    complain(fault)
  }
}
</script>

<template>
  <div class="page">
    <header class="top">
      <h1>{{ forQuote ? 'Quote for which customer?' : 'Customers' }}</h1>
      <p class="soft">{{ data ? count(data.count, 'customer') : '' }}</p>
    </header>
    <div class="chips">
      <input
        v-model.lazy="filters.words.value"
        class="input find"
        type="search"
        aria-label="Find by name, number, contact or town"
        placeholder="Find by name, number, contact or town"
        autofocus
      />
      <select v-if="me?.leads" v-model="filters.owner.value" class="input pick" aria-label="Rep">
        <option value="">The whole team</option>
        <option v-for="p in me.people" :key="p.id" :value="String(p.id)">{{ p.name }}</option>
      </select>
      <ExportLinks path="/api/customers" :values="values" />
    </div>
    <LoadState v-if="!data" :error="error" :rows="10" @again="refetch()" />
    <section v-else class="card scroll">
      <EmptyState v-if="!data.rows.length" title="No customer matches">
        A new customer is made with their first <RouterLink to="/deals/new">deal</RouterLink>.
      </EmptyState>
      <table v-else class="list">
        <thead>
          <tr>
            <th>Standing</th>
            <SortHead v-model="filters.sort.value" field="name">Customer</SortHead>
            <SortHead v-model="filters.sort.value" field="number">Number</SortHead>
            <th>Kind</th>
            <th>Town</th>
            <th>Contact</th>
            <th class="num">Open {{ data.currency }}</th>
            <th class="num">Overdue</th>
            <th class="num">Limit</th>
            <th v-if="me?.role !== 'rep'">Rep</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in data.rows" :key="row.id" class="goes" @click="open(row.id)">
            <td class="verdict">
              <VerdictMark :verdict="row.verdict" :size="16" /> {{ WORDS[row.verdict] }}
            </td>
            <td>
              <a class="whole" :href="`/customers/${row.id}`" @click.stop.prevent="open(row.id)">{{
                row.name
              }}</a>
            </td>
            <td class="soft">{{ row.number }}</td>
            <td>{{ row.kind }}</td>
            <td>{{ row.town }}</td>
            <td>{{ row.contact }}</td>
            <td class="num">{{ figure(row.balance) }}</td>
            <td class="num" :class="{ late: row.overdue !== '0.00' }">{{ figure(row.overdue) }}</td>
            <td class="num">{{ row.limit ? figure(row.limit) : 'not set' }}</td>
            <td v-if="me?.role !== 'rep'">{{ row.owner }}</td>
          </tr>
        </tbody>
      </table>
      <ListPages v-model="filters.page.value" :pages="data.pages" />
    </section>
  </div>
</template>

<style scoped>
.top {
  display: flex;
  gap: 14px;
  align-items: baseline;
}
.chips {
  margin: 10px 0;
}
.find {
  width: 320px;
}
.pick {
  width: auto;
}
.verdict {
  white-space: nowrap;
}
.verdict svg {
  vertical-align: -3px;
}
</style>
