<script setup lang="ts">
/** Framework agreements: where each stands against its time, and which asks to be called off. */
import { computed } from 'vue'
import { day, figure, units } from '@/kit/format/format'
import FindField from '@/kit/list/FindField.vue'
import ListPages from '@/kit/list/ListPages.vue'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { useFilters } from '@/kit/list/useFilters'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import PaceTrack from '@/parts/agreement/PaceTrack.vue'
import { t, tn } from '@/words'
import { STATES, useAgreements } from './queries'

const { filters, values } = useFilters({ state: '', search: '', page: '1' })
const { data, error, refetch } = useAgreements(values)
const choices = computed(() =>
  STATES.map((value) => ({ value, label: t(`ahead.agreements.states.${value || 'all'}`) })),
)
</script>

<template>
  <div class="page">
    <header class="top">
      <h1>{{ t('ahead.agreements.title') }}</h1>
      <p class="soft">{{ data ? tn('ahead.agreements.count', data.count) : '' }}</p>
    </header>
    <div class="chips filters">
      <FindField v-model="filters.search.value" class="wide" :label="t('ahead.agreements.find')" />
      <SegmentFilter
        v-model="filters.state.value"
        :choices="choices"
        :label="t('ahead.agreements.state')"
      />
    </div>
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <section v-else class="card scroll">
      <EmptyState v-if="!data.rows.length" :title="t('ahead.agreements.none')">{{
        t('ahead.agreements.noneHint')
      }}</EmptyState>
      <table v-else class="list">
        <thead>
          <tr>
            <th>{{ t('ahead.agreements.columns.number') }}</th>
            <th>{{ t('parts.customer.label') }}</th>
            <th>{{ t('ahead.agreements.columns.item') }}</th>
            <th class="wide">{{ t('ahead.agreements.columns.pace') }}</th>
            <th class="num">{{ t('ahead.agreements.columns.left') }}</th>
            <th>{{ t('ahead.agreements.columns.due') }}</th>
            <th>{{ t('ahead.agreements.columns.ends') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in data.rows" :key="row.id">
            <td>
              <RouterLink :to="`/agreements/${row.id}`">{{ row.number }}</RouterLink>
            </td>
            <td>
              <RouterLink :to="`/customers/${row.customer_id}`">{{ row.customer }}</RouterLink>
            </td>
            <td>{{ row.item }}</td>
            <td><PaceTrack :row="row" /></td>
            <td class="num">
              {{
                row.in_money
                  ? `${figure(row.left)} ${row.unit_name}`
                  : units(row.left, row.unit_name)
              }}
            </td>
            <td>
              <span v-if="row.due_on" :class="{ asks: row.asks }"
                >{{ day(row.due_on) }} <small class="soft">{{ figure(row.due ?? '') }}</small></span
              >
            </td>
            <td>{{ day(row.valid_to) }}</td>
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
  gap: 6px 12px;
  align-items: baseline;
}
.filters {
  margin: 10px 0;
}
th.wide {
  min-width: 220px;
}
.asks {
  font-weight: 700;
  color: var(--amber-ink);
}
</style>
