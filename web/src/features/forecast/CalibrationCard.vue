<script setup lang="ts">
/** Whether deals were won as often as they were called: on the line where they were. */
import { useQuery } from '@tanstack/vue-query'
import { useIntersectionObserver } from '@vueuse/core'
import { computed, ref, useTemplateRef } from 'vue'
import { api, take } from '@/api/client'
import { figure } from '@/kit/format/format'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { t, tn } from '@/words'
import CalledPlot from './CalledPlot.vue'
import { asked, type Whose } from './whose'

const props = defineProps<{ values: Whose }>()
const days = defineModel<string>('days', { required: true })
const DAYS = ['0', '', '30', '60'] as const
const daysOf = (value: string) => Number(value || 14)
const choices = DAYS.map((value) => ({
  value,
  label: value === '0' ? t('forecast.past.asDecided') : tn('forecast.past.daysBefore', daysOf(value)), // prettier-ignore
}))
/** Read once it is scrolled to: it looks through two years of deals. */
const near = ref(false)
const card = useTemplateRef<HTMLElement>('card')
useIntersectionObserver(card, (seen) => {
  if (seen.some((each) => each.isIntersecting)) near.value = true
})
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['forecast', 'calibration', props.values, days.value]),
  queryFn: ({ signal }) => {
    const query = { ...asked(props.values), days: daysOf(days.value) }
    return take(api.GET('/api/forecast/calibration', { params: { query }, signal }))
  },
  enabled: near,
  placeholderData: (before) => before,
})
const parts = computed(() => [
  { title: t('forecast.byStage'), rows: data.value?.stages ?? [] },
  { title: t('forecast.byRep'), rows: data.value?.reps ?? [] },
])
</script>

<template>
  <section
    ref="card"
    class="card"
    :class="{ stale: isPlaceholderData }"
    :aria-label="t('forecast.past.called')"
  >
    <header>
      <h2>{{ t('forecast.past.called') }}</h2>
      <span class="soft">{{ t('forecast.past.calledHint') }}</span>
      <SegmentFilter v-model="days" :choices="choices" :label="t('forecast.past.when')" />
    </header>
    <LoadState v-if="!data" :error="error" :rows="6" @again="refetch()" />
    <EmptyState v-else-if="!data.deals" :title="t('forecast.past.none')" />
    <template v-else>
      <p>
        {{
          t('forecast.past.sentence', { called: figure(data.called), share: figure(data.share) })
        }}
        <span class="soft">{{ tn('forecast.past.ofDeals', data.deals) }}</span>
        · {{ t('forecast.past.score', { score: figure(data.score) }) }}
      </p>
      <div class="two">
        <CalledPlot :classes="data.classes" />
        <div class="scroll">
          <table v-for="part in parts" :key="part.title" class="list">
            <thead>
              <tr>
                <th>{{ part.title }}</th>
                <th class="num">{{ t('forecast.past.deals') }}</th>
                <th class="num">{{ t('forecast.past.wasCalled') }}</th>
                <th class="num">{{ t('forecast.past.wasWon') }}</th>
                <th class="num">{{ t('forecast.past.between') }}</th>
                <th class="num">{{ t('forecast.past.scoreHead') }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="row in part.rows" :key="row.key">
                <td>{{ row.name }}</td>
                <td class="num">{{ row.deals }}</td>
                <td class="num">{{ figure(row.called) }} %</td>
                <td class="num">{{ figure(row.share) }} %</td>
                <td class="num soft">{{ figure(row.low) }} – {{ figure(row.high) }}</td>
                <td class="num">{{ figure(row.score) }}</td>
              </tr>
            </tbody>
          </table>
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped>
.card {
  margin-top: 12px;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
}
header > :last-child {
  margin-left: auto;
}
.two {
  display: grid;
  grid-template-columns: 400px minmax(0, 1fr);
  gap: 24px;
  align-items: start;
}
.scroll table + table {
  margin-top: 12px;
}
.stale {
  opacity: 0.6;
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
