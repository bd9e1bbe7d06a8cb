<script setup lang="ts">
/** Revenue by month: invoiced, backlog, weighted deals later by the usual lead time; every figure opens its rows. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '@/api/client'
import { figure, monthOf } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'
import { leadOf, partsOf, type RevenueMonth } from './revenue'
import { asked, linked, type Whose } from './whose'

const props = defineProps<{
  values: Whose
  deals: (filter: Record<string, string>) => string
}>()
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['forecast', 'revenue', props.values]),
  queryFn: ({ signal }) =>
    take(api.GET('/api/forecast/revenue', { params: { query: asked(props.values) }, signal })),
  placeholderData: (before) => before,
})
const rows = computed(() => {
  const months = data.value?.months ?? []
  const parts = partsOf(months)
  return months.map((month, n) => ({ month, at: parts[n]! }))
})
function list(place: 'invoices' | 'backlog', month: string): string {
  return `/${place}?${new URLSearchParams({ ...linked(props.values, false), month })}`
}
const dealsOf = ({ decided_since, decided_until }: RevenueMonth) =>
  props.deals({ since: decided_since ?? '', until: decided_until ?? '' })
const said = (month: RevenueMonth) =>
  t('revenue.said', {
    month: monthOf(month.month),
    invoiced: figure(month.invoiced),
    backlog: figure(month.backlog),
    weighted: figure(month.weighted),
  })
const some = (amount: string) => Number(amount) !== 0
</script>

<template>
  <section
    class="card revenue"
    :aria-label="t('revenue.title')"
    :class="{ stale: isPlaceholderData }"
  >
    <header>
      <h2>{{ t('revenue.title') }}</h2>
      <span class="soft">{{ data ? t('revenue.hint', { currency: data.currency }) : '' }}</span>
      <ul class="key" aria-hidden="true">
        <li><i class="invoiced" />{{ t('revenue.invoiced') }}</li>
        <li><i class="backlog" />{{ t('revenue.backlog') }}</li>
        <li><i class="weighted" />{{ t('revenue.weighted') }}</li>
        <li><i class="target" />{{ t('revenue.target') }}</li>
      </ul>
    </header>
    <LoadState v-if="!data" :error="error" :rows="8" @again="refetch()" />
    <template v-else>
      <div class="scroll">
        <table class="list">
          <thead>
            <tr>
              <th>{{ t('forecast.monthHead') }}</th>
              <th class="picture" />
              <th class="num">{{ t('revenue.invoiced') }}</th>
              <th class="num">{{ t('revenue.backlog') }}</th>
              <th class="num">{{ t('revenue.weighted') }}</th>
              <th class="num">{{ t('revenue.total') }}</th>
              <th class="num">{{ t('revenue.target') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="{ month, at } in rows" :key="month.month">
              <td class="name">{{ monthOf(month.month) }}</td>
              <td>
                <span class="line" role="img" :aria-label="said(month)">
                  <i class="invoiced" :style="{ width: `${at.invoiced}%` }" />
                  <i class="backlog" :style="{ width: `${at.backlog}%` }" />
                  <i class="weighted" :style="{ width: `${at.weighted}%` }" />
                  <i v-if="at.target !== null" class="target" :style="{ left: `${at.target}%` }" />
                </span>
              </td>
              <td class="num">
                <RouterLink v-if="some(month.invoiced)" :to="list('invoices', month.month)">{{
                  figure(month.invoiced)
                }}</RouterLink>
                <span v-else class="soft">–</span>
              </td>
              <td class="num">
                <RouterLink v-if="some(month.backlog)" :to="list('backlog', month.month)">{{
                  figure(month.backlog)
                }}</RouterLink>
                <span v-else class="soft">–</span>
              </td>
              <td class="num">
                <RouterLink v-if="some(month.weighted)" :to="dealsOf(month)">{{
                  figure(month.weighted)
                }}</RouterLink>
                <span v-else class="soft">–</span>
              </td>
              <td class="num">
                <b>{{ figure(month.total) }}</b>
              </td>
              <td class="num soft">{{ month.target === null ? '–' : figure(month.target) }}</td>
            </tr>
            <tr v-if="some(data.later_backlog) || some(data.later_weighted)">
              <td class="name">{{ t('revenue.later') }}</td>
              <td />
              <td />
              <td class="num">
                <RouterLink v-if="some(data.later_backlog)" :to="list('backlog', 'later')">{{
                  figure(data.later_backlog)
                }}</RouterLink>
              </td>
              <td class="num">
                <RouterLink
                  v-if="some(data.later_weighted)"
                  :to="deals({ since: data.later_since })"
                  >{{ figure(data.later_weighted) }}</RouterLink
                >
              </td>
              <td />
              <td />
            </tr>
            <tr v-if="some(data.undated)">
              <td class="name late">{{ t('revenue.undated') }}</td>
              <td />
              <td />
              <td class="num">
                <RouterLink :to="list('backlog', 'undated')">{{ figure(data.undated) }}</RouterLink>
              </td>
              <td />
              <td />
              <td />
            </tr>
          </tbody>
        </table>
      </div>
      <p class="soft foot on-screen">
        <b>{{ t('revenue.year', { amount: figure(data.year) }) }}</b><br />
        {{ leadOf(data) }} {{ t('revenue.backlogHint') }}
      </p>
    </template>
  </section>
</template>

<style scoped src="./key.css" />

<style scoped>
.revenue {
  margin-top: 12px;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
}
.picture {
  width: 34%;
}
.name {
  white-space: nowrap;
}
.line {
  position: relative;
  display: flex;
  align-items: center;
  min-width: 160px;
  height: 22px;
  background: linear-gradient(var(--rule), var(--rule)) center / 100% 1px no-repeat;
}
.line i {
  height: 13px;
}
i.invoiced {
  background: var(--ink);
}
i.backlog {
  background: var(--teal);
}
i.weighted {
  background: repeating-linear-gradient(
    -45deg,
    color-mix(in srgb, var(--teal) 55%, transparent) 0 2px,
    color-mix(in srgb, var(--teal) 16%, transparent) 2px 5px
  );
}
.line i.target {
  position: absolute;
  width: 13px;
  height: 13px;
  border: 4px solid var(--coral);
  border-radius: 50%;
  margin-left: -6px;
  background: var(--sheet);
}
.foot {
  margin-top: 8px;
  max-width: 90ch;
}
.stale {
  opacity: 0.6;
}
</style>
