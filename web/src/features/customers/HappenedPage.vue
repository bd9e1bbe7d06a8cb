<script setup lang="ts">
/** What happened with a customer: who was told what and when, and what was written on paper. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, take } from '@/api/client'
import type { operations } from '@/api/schema'
import { day, figure } from '@/kit/format/format'
import { counted } from '@/kit/list/counted'
import DaysFilter from '@/kit/list/DaysFilter.vue'
import FindField from '@/kit/list/FindField.vue'
import ListPages from '@/kit/list/ListPages.vue'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { useFilters } from '@/kit/list/useFilters'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { useTitle } from '@/kit/show/title'
import { t } from '@/words'
import { byDay, isSaid, nameOf, peopleOf, stateOf } from './happened'
import { customerQuery } from './queries'

type Query = NonNullable<operations['get_timeline']['parameters']['query']>
const id = Number(useRoute().params.id)
const { filters, values } = useFilters({ kind: '', words: '', since: '', until: '', page: '1' })
const { data: customer } = useQuery(customerQuery(id))
useTitle(() => customer.value && `${t('customers.happened.title')}, ${customer.value.name}`)
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['customer', id, 'timeline', values.value]),
  queryFn: ({ signal }) => {
    const given = Object.entries(values.value).filter(([, value]) => value)
    const params = { path: { customer_id: id }, query: Object.fromEntries(given) as Query }
    return take(api.GET('/api/customers/{customer_id}/timeline', { params, signal }))
  },
  placeholderData: (before) => before,
})
const kinds = [
  { value: '', label: t('list.all') },
  { value: 'said', label: t('customers.happened.said') },
  { value: 'papers', label: t('customers.happened.papers') },
]
const days = computed(() => byDay(data.value?.rows ?? []))
const narrowed = computed(() =>
  (['kind', 'words', 'since', 'until'] as const).some((name) => values.value[name]),
)
const print = () => window.print()
</script>

<template>
  <div class="page">
    <header class="top">
      <h1>{{ t('customers.happened.title') }}</h1>
      <p class="soft">
        <RouterLink :to="`/customers/${id}`">{{ customer?.name }}</RouterLink>
        {{ counted(data) }}
      </p>
      <ElButton size="small" class="on-screen" @click="print">{{ t('board.print') }}</ElButton>
    </header>
    <div class="filters on-screen">
      <SegmentFilter
        v-model="filters.kind.value"
        :choices="kinds"
        :label="t('customers.happened.kind')"
      />
      <FindField v-model="filters.words.value" :label="t('customers.happened.find')" />
      <DaysFilter v-model:since="filters.since.value" v-model:until="filters.until.value" />
    </div>
    <LoadState v-if="!data" :error="error" :rows="8" @again="refetch()" />
    <EmptyState
      v-else-if="!data.rows.length"
      :title="t(narrowed ? 'customers.happened.noneSuch' : 'customers.happened.none')"
      >{{ t(narrowed ? 'customers.documents.noneSuchHint' : 'customers.happened.noneHint') }}
    </EmptyState>
    <section v-else class="card" :class="{ stale: isPlaceholderData }">
      <ol class="line">
        <template v-for="each in days" :key="each.day">
          <li class="date">
            <span class="ring" aria-hidden="true" />
            <h2>{{ day(each.day) }}</h2>
          </li>
          <li v-for="row in each.rows" :key="`${row.kind} ${row.id}`" :class="row.kind">
            <span class="dot" aria-hidden="true" />
            <span class="soft at">{{ row.at }}</span>
            <RouterLink v-if="row.to" class="name" :to="row.to">{{ nameOf(row) }}</RouterLink>
            <b v-else class="name">{{ nameOf(row) }}</b>
            <span class="words">
              <template v-if="isSaid(row)">
                <span class="soft">{{ peopleOf(row) }}</span>
                <b v-if="row.title">{{ row.title }}</b>
                <span class="text">{{ row.words }}</span>
              </template>
              <span class="soft">{{ stateOf(row) }}</span>
            </span>
            <span class="num">{{ row.amount ? `${figure(row.amount)} ${row.currency}` : '' }}</span>
          </li>
        </template>
      </ol>
      <ListPages v-model="filters.page.value" :pages="data.pages" />
    </section>
  </div>
</template>

<style scoped>
.top,
.filters {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: baseline;
  margin-bottom: 10px;
}
.top p {
  flex: 1;
}
.stale {
  opacity: 0.55;
}
.line {
  position: relative;
  list-style: none;
  margin: 0;
  padding: 0;
}
.line::before {
  content: '';
  position: absolute;
  left: 8px;
  top: 14px;
  bottom: 14px;
  width: 4px;
  background: var(--rule);
}
.line li {
  position: relative;
  display: grid;
  grid-template-columns: 20px 44px 190px 1fr auto;
  gap: 4px 12px;
  align-items: baseline;
  padding: 5px 0;
}
.line .date {
  grid-template-columns: 20px 1fr;
  align-items: center;
  padding: 10px 0 2px;
}
.date h2 {
  margin: 0;
  font-size: 15px;
}
.ring,
.dot {
  border-radius: 50%;
}
.ring {
  width: 20px;
  height: 20px;
  border: 4px solid var(--ink);
  background: var(--sheet);
}
.dot {
  align-self: start;
  width: 9px;
  height: 9px;
  margin: 6px 0 0 5.5px;
  background: var(--ink-2);
}
.arrived .dot {
  background: var(--coral);
}
.mail .dot,
.call .dot,
.visit .dot {
  background: var(--teal);
}
.words {
  display: flex;
  flex-wrap: wrap;
  gap: 0 10px;
  min-width: 0;
}
.text {
  flex-basis: 100%;
  display: -webkit-box;
  overflow: hidden;
  overflow-wrap: anywhere;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  line-clamp: 2;
}
@media (max-width: 820px) {
  .line li:not(.date) {
    grid-template-columns: 20px 1fr auto;
  }
  .at {
    grid-column: 3;
    grid-row: 1;
  }
  .name {
    grid-column: 2;
    grid-row: 1;
  }
  .words {
    grid-column: 2 / -1;
  }
  .num {
    grid-column: 2;
    text-align: left;
  }
}
</style>
