<script setup lang="ts">
/** Deals as a table: filtered, sorted, summed, exported. */
import { onKeyStroke } from '@vueuse/core'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import EmptyState from '@/shared/EmptyState.vue'
import ExportLinks from '@/shared/ExportLinks.vue'
import { count, day, figure, month } from '@/shared/format'
import ListPages from '@/shared/ListPages.vue'
import LoadState from '@/shared/LoadState.vue'
import { me } from '@/shared/session'
import SortHead from '@/shared/SortHead.vue'
import SumBar from '@/shared/SumBar.vue'
import { useFilters } from '@/shared/useFilters'
import { CONFIDENCE, useDealPage, useStages } from './useDeals'

const router = useRouter()
const { filters, values } = useFilters({
  state: 'open',
  stage: '',
  month: '',
  owner: '',
  confidence: '',
  words: '',
  least: '',
  sort: 'decision',
  page: '1',
})
const stages = useStages()
const { data, error, refetch } = useDealPage(values)
const sums = computed(() =>
  data.value
    ? [
        { label: 'Deals', value: String(data.value.count) },
        { label: `Amount ${me.value?.base_currency}`, value: figure(data.value.sums.amount) },
        { label: 'Weighted', value: figure(data.value.sums.weighted), main: true },
        ...Object.entries(CONFIDENCE)
          .filter(([key]) => data.value?.sums.by_confidence[key])
          .map(([key, label]) => ({ label, value: figure(data.value?.sums.by_confidence[key]) })),
      ]
    : [],
)
onKeyStroke('t', (event) => {
  const target = event.target as HTMLElement
  if (!event.ctrlKey && !event.metaKey && !/INPUT|SELECT|TEXTAREA/.test(target.tagName)) {
    void router.push('/timetable')
  }
})
</script>

<template>
  <div class="page with-bar">
    <header class="top">
      <h1>Deals</h1>
      <p class="soft">
        <template v-if="values.month">decision {{ month(values.month) }}</template>
      </p>
      <RouterLink class="btn" to="/timetable">Timetable <kbd>T</kbd></RouterLink>
      <RouterLink class="btn act" to="/deals/new">New deal</RouterLink>
    </header>
    <div class="chips">
      <input
        v-model.lazy="filters.words.value"
        class="input find"
        type="search"
        aria-label="Find a deal by title or customer"
        placeholder="Find by title or customer"
      />
      <button
        v-for="[key, name] in [
          ['open', 'Open'],
          ['closed', 'Closed'],
          ['', 'All'],
        ]"
        :key="key"
        class="btn small"
        :aria-pressed="values.state === key"
        @click="filters.state.value = key ?? ''"
      >
        {{ name }}
      </button>
      <select v-model="filters.stage.value" class="input pick" aria-label="Stage">
        <option value="">Any stage</option>
        <option v-for="s in stages.data.value ?? []" :key="s.code" :value="s.code">
          {{ s.name }}
        </option>
      </select>
      <select v-model="filters.confidence.value" class="input pick" aria-label="Confidence">
        <option value="">Any confidence</option>
        <option v-for="(name, key) in CONFIDENCE" :key="key" :value="key">{{ name }}</option>
      </select>
      <select v-if="me?.leads" v-model="filters.owner.value" class="input pick" aria-label="Rep">
        <option value="">The whole team</option>
        <option v-for="p in me.people" :key="p.id" :value="String(p.id)">{{ p.name }}</option>
      </select>
      <button
        class="btn small"
        :aria-pressed="values.month === 'overdue'"
        @click="filters.month.value = values.month === 'overdue' ? '' : 'overdue'"
      >
        Date gone by
      </button>
      <button
        v-if="values.month && values.month !== 'overdue'"
        class="btn small"
        aria-pressed="true"
        @click="filters.month.value = ''"
      >
        {{ month(values.month) }} ×
      </button>
      <ExportLinks path="/api/deals" :values="values" />
    </div>
    <LoadState v-if="!data" :error="error" :rows="10" @again="refetch()" />
    <section v-else class="card scroll">
      <EmptyState v-if="!data.rows.length" title="No deal matches">
        Take a filter away, or <RouterLink to="/deals/new">make a new deal</RouterLink>.
      </EmptyState>
      <table v-else class="list">
        <thead>
          <tr>
            <SortHead v-model="filters.sort.value" field="customer">Customer</SortHead>
            <SortHead v-model="filters.sort.value" field="title">Deal</SortHead>
            <SortHead v-model="filters.sort.value" field="stage">Stage</SortHead>
            <SortHead v-model="filters.sort.value" field="amount" numeric
              >Amount {{ me?.base_currency }}</SortHead
            >
            <SortHead v-model="filters.sort.value" field="probability" numeric>%</SortHead>
            <th class="num">Weighted</th>
            <SortHead v-model="filters.sort.value" field="decision">Decision</SortHead>
            <th>Confidence</th>
            <th v-if="me?.leads">Rep</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="deal in data.rows"
            :key="deal.id"
            class="goes"
            @click="router.push(`/deals/${deal.id}`)"
          >
            <td>{{ deal.customer }}</td>
            <td>
              <RouterLink class="whole" :to="`/deals/${deal.id}`" @click.stop>{{
                deal.title
              }}</RouterLink>
            </td>
            <td>{{ deal.stage_name }}</td>
            <td class="num">
              <span v-if="!deal.quoted" class="soft" title="The rep's estimate">est.</span>
              {{ figure(deal.amount) }}
            </td>
            <td class="num">{{ figure(deal.probability) }}</td>
            <td class="num">{{ figure(deal.weighted) }}</td>
            <td :class="{ late: deal.overdue }">
              {{ day(deal.decision_on) }}{{ deal.overdue ? ', gone by' : '' }}
            </td>
            <td>{{ CONFIDENCE[deal.confidence] }}</td>
            <td v-if="me?.leads">{{ deal.owner }}</td>
          </tr>
        </tbody>
      </table>
      <ListPages v-model="filters.page.value" :pages="data.pages" />
    </section>
    <SumBar :sums="sums"
      ><span class="hint">{{ data ? count(data.count, 'deal') : '' }} in this filter</span></SumBar
    >
  </div>
</template>

<style scoped>
.top {
  display: flex;
  align-items: baseline;
  gap: 12px;
}
.top p {
  flex: 1;
}
.chips {
  margin: 10px 0;
}
.find {
  width: 210px;
}
.pick {
  width: auto;
}
kbd {
  font: 11px var(--font);
  color: var(--ink-2);
  border: 1px solid var(--rule);
  border-radius: 3px;
  padding: 0 4px;
}
.hint {
  color: var(--on-bar-2);
}
</style>
