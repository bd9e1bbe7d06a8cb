<script setup lang="ts">
/** Find a customer; the standing shows before the sheet is opened. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import { count, figure } from '@/kit/format/format'
import ListSheet from '@/kit/list/ListSheet.vue'
import ListTools from '@/kit/list/ListTools.vue'
import { complain } from '@/kit/act/notices'
import { me } from '@/api/session'
import { useColumns } from '@/kit/list/useColumns'
import { useFilters } from '@/kit/list/useFilters'
import VerdictMark from '@/kit/show/VerdictMark.vue'

const route = useRoute()
const router = useRouter()
const forQuote = computed(() => route.query.for === 'quote')
const { filters, values } = useFilters({ words: '', owner: '', sort: 'name', page: '1', for: '' })
const columns = useColumns('customers', () => [
  { key: 'verdict', label: 'Standing' },
  { key: 'name', label: 'Customer', sort: 'name', fixed: true },
  { key: 'number', label: 'Number', sort: 'number', soft: true },
  { key: 'kind', label: 'Kind', sort: 'kind' },
  { key: 'town', label: 'Town', sort: 'town' },
  { key: 'contact', label: 'Contact' },
  { key: 'balance', label: `Open ${me.value?.base_currency ?? ''}`, num: true },
  { key: 'overdue', label: 'Overdue', num: true },
  { key: 'limit', label: 'Limit', sort: 'limit', num: true },
  { key: 'owner', label: 'Rep', sort: 'owner', extra: me.value?.role === 'rep' },
])
const { data, error, refetch } = useQuery({
  queryKey: computed(() => ['customers', values.value]),
  queryFn: () =>
    take(
      api.GET('/api/customers', {
        params: {
          query: {
            words: values.value.words,
            owner: values.value.owner ? Number(values.value.owner) : undefined,
            sort: values.value.sort,
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
      <ListTools place="customers" :values="values" :columns="columns" />
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
    </div>
    <ListSheet
      :id="(row) => row.id"
      v-model:sort="filters.sort.value"
      v-model:page="filters.page.value"
      :columns="columns.seen.value"
      :rows="data?.rows"
      :pages="data?.pages ?? 1"
      :error="error"
      :to="(row) => `/customers/${row.id}`"
      :acts="forQuote"
      nothing="No customer matches"
      @again="refetch()"
      @open="(row) => open(row.id)"
    >
      <template #nothing>
        A new customer is made with their first <RouterLink to="/deals/new">deal</RouterLink>.
      </template>
      <template #verdict="{ row }"
        ><span class="verdict"
          ><VerdictMark :verdict="row.verdict" :size="16" /> {{ WORDS[row.verdict] }}</span
        ></template
      >
      <template #balance="{ row }">{{ figure(row.balance) }}</template>
      <template #overdue="{ row }"
        ><span :class="{ late: row.overdue !== '0.00' }">{{ figure(row.overdue) }}</span></template
      >
      <template #limit="{ row }">{{ row.limit ? figure(row.limit) : 'not set' }}</template>
    </ListSheet>
  </div>
</template>

<style scoped>
.top {
  display: flex;
  flex-wrap: wrap;
  gap: 14px;
  align-items: center;
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
