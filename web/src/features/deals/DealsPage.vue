<script setup lang="ts">
/** Deals as a table: filtered, sorted, summed, exported. */
import { onKeyStroke } from '@vueuse/core'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { count, day, figure, month } from '@/kit/format/format'
import ListSheet from '@/kit/list/ListSheet.vue'
import ListTools from '@/kit/list/ListTools.vue'
import { me } from '@/api/session'
import SumBar from '@/kit/show/SumBar.vue'
import { useColumns } from '@/kit/list/useColumns'
import { useFilters } from '@/kit/list/useFilters'
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
const columns = useColumns('deals', () => [
  { key: 'customer', label: 'Customer', sort: 'customer' },
  { key: 'title', label: 'Deal', sort: 'title', fixed: true },
  { key: 'stage_name', label: 'Stage', sort: 'stage' },
  { key: 'amount', label: `Amount ${me.value?.base_currency ?? ''}`, sort: 'amount', num: true },
  { key: 'probability', label: '%', sort: 'probability', num: true },
  { key: 'weighted', label: 'Weighted', num: true },
  { key: 'decision_on', label: 'Decision', sort: 'decision' },
  { key: 'confidence', label: 'Confidence' },
  { key: 'owner', label: 'Rep', sort: 'owner', extra: !me.value?.leads },
])
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
      <p v-if="values.month" class="soft">decision {{ month(values.month) }}</p>
      <ListTools place="deals" :values="values" :columns="columns" />
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
    </div>
    <ListSheet
      :id="(deal) => deal.id"
      v-model:sort="filters.sort.value"
      v-model:page="filters.page.value"
      :columns="columns.seen.value"
      :rows="data?.rows"
      :pages="data?.pages ?? 1"
      :error="error"
      :to="(deal) => `/deals/${deal.id}`"
      nothing="No deal matches"
      @again="refetch()"
      @open="(deal) => router.push(`/deals/${deal.id}`)"
    >
      <template #nothing>
        Take a filter away, or <RouterLink to="/deals/new">make a new deal</RouterLink>.
      </template>
      <template #amount="{ row: deal }"
        ><span v-if="!deal.quoted" class="soft" title="The rep's estimate">est.</span>
        {{ figure(deal.amount) }}</template
      >
      <template #probability="{ row: deal }">{{ figure(deal.probability) }}</template>
      <template #weighted="{ row: deal }">{{ figure(deal.weighted) }}</template>
      <template #decision_on="{ row: deal }"
        ><span :class="{ late: deal.overdue }"
          >{{ day(deal.decision_on) }}{{ deal.overdue ? ', gone by' : '' }}</span
        ></template
      >
      <template #confidence="{ row: deal }">{{ CONFIDENCE[deal.confidence] }}</template>
    </ListSheet>
    <SumBar :sums="sums"
      ><span class="hint">{{ data ? count(data.count, 'deal') : '' }} in this filter</span></SumBar
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
