<script setup lang="ts">
/** The forecast: weighted amounts by month, stage and rep; each figure opens its deals. */
import { useQuery } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import { figure } from '@/kit/format/format'
import CustomerFilter from '@/parts/customer/CustomerFilter.vue'
import RepFilter from '@/kit/list/RepFilter.vue'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { useFilters } from '@/kit/list/useFilters'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import SumBar from '@/kit/show/SumBar.vue'
import { confidenceChoices } from '@/parts/deal/confidence'
import { t } from '@/words'
import BacktestCard from './BacktestCard.vue'
import CalibrationCard from './CalibrationCard.vue'
import CutsCard from './CutsCard.vue'
import ForecastTables from './ForecastTables.vue'
import OutlookCard from './OutlookCard.vue'
import RevenueCard from './RevenueCard.vue'
import TargetsPanel from './TargetsPanel.vue'
import { asked, linked, type Whose } from './whose'

const ForecastChart = defineAsyncComponent(() => import('./ForecastChart.vue'))
const router = useRouter()
const { filters, values: every } = useFilters({
  owner: '',
  team: '',
  confidence: '',
  customer: '',
  family: '',
  season: '',
  chances: '',
  since: '',
  days: '',
})
/** Whose deals; the others are each card's own. */
const values = computed<Whose>(() => {
  const { owner, team, confidence, customer, family } = every.value
  return { owner, team, confidence, customer, family }
})
const setting = ref(false)
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['forecast', values.value]),
  queryFn: ({ signal }) => {
    return take(api.GET('/api/forecast', { params: { query: asked(values.value) }, signal }))
  },
  placeholderData: (before) => before,
})
const confidences = computed(() => [{ value: '', label: t('list.all') }, ...confidenceChoices()])
const sums = computed(() => {
  const total = data.value?.total
  if (!total) return []
  const to = deals({})
  const currency = data.value?.currency ?? ''
  return [
    { label: t('app.places.deals'), value: String(total.count), to },
    { label: t('deals.columns.amount', { currency }), value: figure(total.amount), to },
    { label: t('deals.form.weighted'), value: figure(total.weighted), main: true, to },
  ]
})
const print = () => window.print()
/** The list of exactly the deals that a figure sums. */
function deals(filter: Record<string, string>): string {
  const query = { ...linked(values.value), ...filter }
  const given = Object.entries(query).filter(([, value]) => value) as [string, string][]
  const text = new URLSearchParams(given).toString()
  return text ? `/deals?${text}` : '/deals'
}
</script>

<template>
  <div class="page with-bar one-sheet">
    <header class="top">
      <h1>{{ t('app.places.forecast') }}</h1>
      <p class="soft">{{ t('forecast.formula') }}</p>
      <div class="chips">
        <RepFilter v-model="filters.owner.value" v-model:team="filters.team.value" />
        <CustomerFilter v-model="filters.customer.value" v-model:family="filters.family.value" />
        <SegmentFilter
          v-model="filters.confidence.value"
          :choices="confidences"
          :label="t('deals.form.confidence')"
        />
        <ElButton size="small" @click="print">{{ t('forecast.print') }}</ElButton>
      </div>
    </header>
    <OutlookCard
      v-model:season="filters.season.value"
      v-model:chances="filters.chances.value"
      v-model:since="filters.since.value"
      :values="values"
      :deals="deals"
      :setting="setting"
      @targets="setting = !setting"
    >
      <template #below><TargetsPanel v-if="setting" @close="setting = false" /></template>
    </OutlookCard>
    <RevenueCard :values="values" :deals="deals" />
    <LoadState v-if="!data" :error="error" :rows="10" @again="refetch()" />
    <div v-else class="on-screen" :class="{ stale: isPlaceholderData }">
      <section class="card">
        <header>
          <h2>{{ t('forecast.chart') }}</h2>
          <span class="soft">{{ t('forecast.chartHint', { currency: data.currency }) }}</span>
        </header>
        <EmptyState v-if="!data.months.length" :title="t('board.none')">
          <RouterLink to="/deals/new">{{ t('board.first') }}</RouterLink>
        </EmptyState>
        <ForecastChart
          v-else
          :forecast="data"
          @open="(month, stage) => router.push(deals({ month, stage }))"
        />
      </section>
      <ForecastTables :forecast="data" :deals="deals" />
    </div>
    <CutsCard class="on-screen" :values="values" :deals="deals" />
    <CalibrationCard v-model:days="filters.days.value" class="on-screen" :values="values" />
    <BacktestCard class="on-screen" :values="values" />
    <SumBar :sums="sums" :stale="isPlaceholderData" />
  </div>
</template>

<style scoped>
.top {
  display: flex;
  gap: 6px 14px;
  align-items: baseline;
  flex-wrap: wrap;
  margin-bottom: 10px;
}
.top p {
  flex: 1;
}
.stale {
  opacity: 0.55;
}
</style>
