<script setup lang="ts">
/** The forecast as figures: by month and stage, by stage, by rep; each opens its deals. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import { t } from '@/words'
import { monthName, OVERDUE } from './months'

const props = defineProps<{
  forecast: Shapes['ForecastOut']
  deals: (filter: { month?: string; stage?: string; owner?: string }) => string
}>()
type View = { title: string; cells: Shapes['CellOut'][]; to: (key: string) => string }
const views = computed<View[]>(() => [
  {
    title: t('forecast.byStage'),
    cells: props.forecast.stages,
    to: (stage) => props.deals({ stage }),
  },
  { title: t('forecast.byRep'), cells: props.forecast.reps, to: (owner) => props.deals({ owner }) },
])
</script>

<template>
  <div class="columns">
    <section class="card scroll">
      <table class="list">
        <thead>
          <tr>
            <th>{{ t('forecast.monthHead') }}</th>
            <th class="num">{{ t('app.places.deals') }}</th>
            <th class="num">{{ t('deals.form.amount') }}</th>
            <th v-for="s in forecast.stages" :key="s.key" class="num">{{ s.name }}</th>
            <th class="num">{{ t('deals.form.weighted') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="m in forecast.months" :key="m.key">
            <td :class="{ late: m.key === OVERDUE }">{{ monthName(m.key) }}</td>
            <td class="num">{{ m.count }}</td>
            <td class="num">{{ figure(m.amount) }}</td>
            <td v-for="s in forecast.stages" :key="s.key" class="num">
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
            <td>{{ t('forecast.total') }}</td>
            <td class="num">{{ forecast.total.count }}</td>
            <td class="num">{{ figure(forecast.total.amount) }}</td>
            <td v-for="s in forecast.stages" :key="s.key" class="num">{{ figure(s.weighted) }}</td>
            <td class="num">{{ figure(forecast.total.weighted) }}</td>
          </tr>
        </tfoot>
      </table>
    </section>
    <section class="card">
      <table v-for="view in views" :key="view.title" class="list side">
        <thead>
          <tr>
            <th>{{ view.title }}</th>
            <th class="num">{{ t('app.places.deals') }}</th>
            <th class="num">{{ t('deals.form.amount') }}</th>
            <th class="num">{{ t('deals.form.weighted') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in view.cells" :key="c.key">
            <td>{{ c.name }}</td>
            <td class="num">{{ c.count }}</td>
            <td class="num">{{ figure(c.amount) }}</td>
            <td class="num">
              <RouterLink class="whole" :to="view.to(c.key)">{{ figure(c.weighted) }}</RouterLink>
            </td>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
</template>

<style scoped>
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
