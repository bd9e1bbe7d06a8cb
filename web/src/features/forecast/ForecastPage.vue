<script setup lang="ts">
/** The forecast: weighted amounts by month, stage and rep; each figure opens its deals. */
import { useQuery } from '@tanstack/vue-query'
import { BarChart } from 'echarts/charts'
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import { useRouter } from 'vue-router'
import { api, take, type Shapes } from '@/api/client'
import EmptyState from '@/kit/show/EmptyState.vue'
import { figure, month, rough, size } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { me } from '@/api/session'
import SumBar from '@/kit/show/SumBar.vue'
import { isDark } from '@/kit/theme/theme'
import { useFilters } from '@/kit/list/useFilters'

use([BarChart, GridComponent, LegendComponent, TooltipComponent, SVGRenderer])

const router = useRouter()
const { filters, values } = useFilters({ owner: '', confidence: '' })
const { data, error, refetch } = useQuery({
  queryKey: computed(() => ['forecast', values.value]),
  queryFn: () =>
    take(
      api.GET('/api/forecast', {
        params: {
          query: {
            owner: values.value.owner ? Number(values.value.owner) : undefined,
            confidence: values.value.confidence,
          },
        },
      }),
    ),
  placeholderData: (before) => before,
})
const CLASSES: Record<string, string> = { sure: 'Sure', likely: 'Likely', stretch: 'Stretch' }
/** Light to dark along the pipeline, so that the order holds in greyscale too. */
const SHADES = computed(() =>
  isDark.value
    ? ['#2f5f56', '#3f8577', '#4fc4b0', '#a5e3d6', '#eaf7f3']
    : ['#c9ded6', '#8fc0b3', '#4a9c8d', '#0e7a6b', '#12332b'],
)
const option = computed(() => {
  const found = data.value
  if (!found) return {}
  const ink = isDark.value ? '#a9b9b1' : '#50655d'
  const rule = isDark.value ? '#2f453e' : '#dcd6c6'
  return {
    textStyle: { fontFamily: 'Hanken Grotesk Variable', color: ink },
    animation: false,
    grid: { left: 8, right: 8, top: 34, bottom: 4, containLabel: true },
    legend: { top: 0, right: 0, itemWidth: 12, itemHeight: 12, textStyle: { color: ink } },
    tooltip: { trigger: 'item' },
    xAxis: {
      type: 'category',
      data: found.months.map((m) => month(m.key)),
      axisLine: { lineStyle: { color: ink, width: 2 } },
      axisTick: { show: false },
      axisLabel: { color: ink },
    },
    yAxis: {
      type: 'value',
      splitLine: { lineStyle: { color: rule } },
      axisLabel: { color: ink, formatter: (value: number) => rough(String(value)) },
    },
    series: found.stages.map((stage, n) => ({
      name: stage.name,
      type: 'bar',
      stack: 'all',
      barMaxWidth: 64,
      itemStyle: {
        color: SHADES.value[n],
        borderColor: isDark.value ? '#172a25' : '#fffdf7',
        borderWidth: 1,
      },
      data: found.months.map((m) => ({
        value: size(m.stages[stage.key]?.weighted ?? '0'),
        name: `${m.key}|${stage.key}`,
      })),
      tooltip: {
        formatter: ({ name }: { name: string }) => {
          const [key = '', code = ''] = name.split('|')
          const cell = found.months.find((m) => m.key === key)?.stages[code]
          return `${stage.name}, ${month(key)}: ${figure(cell?.weighted)} weighted`
        },
      },
    })),
  }
})
const summary = computed(
  () =>
    data.value?.months.map((m) => `${month(m.key)}: ${figure(m.weighted)} weighted`).join('; ') ??
    '',
)
const sums = computed(() => {
  const total = data.value?.total
  if (!total) return []
  return [
    { label: 'Deals', value: String(total.count), to: deals({}) },
    { label: `Amount ${data.value?.currency}`, value: figure(total.amount), to: deals({}) },
    { label: 'Weighted', value: figure(total.weighted), main: true, to: deals({}) },
  ]
})

/** The list of exactly the deals that a figure sums. */
function deals(filter: { month?: string; stage?: string; owner?: string }): string {
  const query = { ...values.value, ...filter }
  const given = Object.entries(query).filter(([, value]) => value) as [string, string][]
  const text = new URLSearchParams(given).toString()
  return text ? `/deals?${text}` : '/deals'
}
function clicked(event: { data?: unknown }): void {
  const { name = '' } = (event.data ?? {}) as { name?: string }
  const [key, stage] = name.split('|')
  if (key && stage) void router.push(deals({ month: key, stage }))
}
type View = { title: string; cells: Shapes['CellOut'][]; to: (key: string) => string }
const views = computed<View[]>(() =>
  data.value
    ? [
        { title: 'By stage', cells: data.value.stages, to: (key) => deals({ stage: key }) },
        { title: 'By rep', cells: data.value.reps, to: (key) => deals({ owner: key }) },
      ]
    : [],
)
</script>

<template>
  <div class="page with-bar">
    <header class="top">
      <h1>Forecast</h1>
      <p class="soft">amount × probability, by month of expected decision</p>
      <div class="chips">
        <select v-if="me?.leads" v-model="filters.owner.value" class="input pick" aria-label="Rep">
          <option value="">The whole team</option>
          <option v-for="p in me.people" :key="p.id" :value="String(p.id)">{{ p.name }}</option>
        </select>
        <button
          v-for="(name, key) in CLASSES"
          :key="key"
          class="btn small"
          :aria-pressed="values.confidence === key"
          @click="filters.confidence.value = values.confidence === key ? '' : key"
        >
          {{ name }}
        </button>
      </div>
    </header>
    <LoadState v-if="!data" :error="error" :rows="10" @again="refetch()" />
    <template v-else>
      <section class="card">
        <header>
          <h2>Weighted by month and stage</h2>
          <span class="soft">{{ data.currency }}; a bar opens its deals</span>
        </header>
        <EmptyState v-if="!data.months.length" title="No open deal">
          <RouterLink to="/deals/new">Make a deal</RouterLink>, and the forecast follows.
        </EmptyState>
        <VChart
          v-else
          class="chart"
          :option="option"
          autoresize
          role="img"
          :aria-label="summary"
          @click="clicked"
        />
      </section>
      <div class="columns">
        <section class="card scroll">
          <table class="list">
            <thead>
              <tr>
                <th>Month</th>
                <th class="num">Deals</th>
                <th class="num">Amount</th>
                <th v-for="s in data.stages" :key="s.key" class="num">{{ s.name }}</th>
                <th class="num">Weighted</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="m in data.months" :key="m.key">
                <td :class="{ late: m.key === 'overdue' }">{{ month(m.key) }}</td>
                <td class="num">{{ m.count }}</td>
                <td class="num">{{ figure(m.amount) }}</td>
                <td v-for="s in data.stages" :key="s.key" class="num">
                  <RouterLink v-if="m.stages[s.key]" :to="deals({ month: m.key, stage: s.key })">{{
                    figure(m.stages[s.key]?.weighted)
                  }}</RouterLink>
                  <span v-else class="soft">–</span>
                </td>
                <td class="num">
                  <RouterLink class="whole" :to="deals({ month: m.key })">{{
                    figure(m.weighted)
                  }}</RouterLink>
                </td>
              </tr>
            </tbody>
            <tfoot>
              <tr>
                <td>Total</td>
                <td class="num">{{ data.total.count }}</td>
                <td class="num">{{ figure(data.total.amount) }}</td>
                <td v-for="s in data.stages" :key="s.key" class="num">{{ figure(s.weighted) }}</td>
                <td class="num">{{ figure(data.total.weighted) }}</td>
              </tr>
            </tfoot>
          </table>
        </section>
        <section class="card">
          <template v-for="view in views" :key="view.title">
            <table class="list side">
              <thead>
                <tr>
                  <th>{{ view.title }}</th>
                  <th class="num">Deals</th>
                  <th class="num">Amount</th>
                  <th class="num">Weighted</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="c in view.cells" :key="c.key">
                  <td>{{ c.name }}</td>
                  <td class="num">{{ c.count }}</td>
                  <td class="num">{{ figure(c.amount) }}</td>
                  <td class="num">
                    <RouterLink class="whole" :to="view.to(c.key)">{{
                      figure(c.weighted)
                    }}</RouterLink>
                  </td>
                </tr>
              </tbody>
            </table>
          </template>
        </section>
      </div>
      <SumBar :sums="sums" />
    </template>
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
.pick {
  width: auto;
}
.chart {
  height: 260px;
}
.columns {
  grid-template-columns: minmax(0, 1.7fr) minmax(0, 1fr);
}
@media (max-width: 980px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
.side + .side {
  margin-top: 14px;
}
</style>
