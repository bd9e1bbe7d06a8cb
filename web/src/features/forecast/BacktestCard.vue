<script setup lang="ts">
/** How early the forecast of a month was right; read on demand, for it looks through a year of snapshots. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { day, figure } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { t, tn } from '@/words'
import { monthName } from './months'
import { asked, type Whose } from './whose'

const props = defineProps<{ values: Whose }>()
const open = ref(false)
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['forecast', 'backtest', props.values]),
  queryFn: ({ signal }) => {
    const query = asked(props.values)
    return take(api.GET('/api/forecast/backtest', { params: { query }, signal }))
  },
  enabled: open,
  placeholderData: (before) => before,
})
type Month = Shapes['PastMonth']
const headOf = (days: number) => {
  if (days === 0) return t('forecast.past.atBegin')
  return days < 0 ? tn('forecast.past.daysBefore', -days) : tn('forecast.past.daysInto', days)
}
const within = (told: Shapes['ForetoldOut'], month: Month) =>
  Number(told.low) <= Number(month.came) && Number(month.came) <= Number(told.high)
const rangeOf = (told: Shapes['ForetoldOut']) =>
  t('forecast.past.range', { day: day(told.on), low: figure(told.low), high: figure(told.high) })
</script>

<template>
  <section class="card" :aria-label="t('forecast.past.early')">
    <header>
      <h2>{{ t('forecast.past.early') }}</h2>
      <span class="soft">{{ t('forecast.past.earlyHint') }}</span>
      <ElButton size="small" :aria-expanded="open" @click="open = !open">{{
        open ? t('forecast.past.fold') : t('forecast.past.look')
      }}</ElButton>
    </header>
    <template v-if="open">
      <LoadState v-if="!data" :error="error" :rows="8" @again="refetch()" />
      <EmptyState v-else-if="!data.of" :title="t('forecast.past.noMonths')" />
      <div v-else class="scroll" :class="{ stale: isPlaceholderData }">
        <table class="list">
          <thead>
            <tr>
              <th>{{ t('forecast.monthHead') }}</th>
              <th v-for="days in data.days" :key="days" class="num">{{ headOf(days) }}</th>
              <th class="num">{{ t('forecast.words.committed') }}</th>
              <th class="num">{{ t('forecast.past.came', { currency: data.currency }) }}</th>
              <th>{{ t('forecast.past.rightSince') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="month in data.months" :key="month.first">
              <td>
                <RouterLink :to="`/deals?state=won&month=${month.first.slice(0, 7)}`">{{
                  monthName(month.first.slice(0, 7))
                }}</RouterLink>
              </td>
              <td v-for="(told, n) in month.foretold" :key="n" class="num">
                <span v-if="told" :class="{ out: !within(told, month) }" :title="rangeOf(told)">{{
                  figure(told.middle)
                }}</span>
                <span v-else class="soft">–</span>
              </td>
              <td class="num">{{ month.committed ? figure(month.committed) : '–' }}</td>
              <td class="num came">{{ figure(month.came) }}</td>
              <td>
                <template v-if="month.right">{{ day(month.right) }}</template>
                <span v-else class="soft">{{ t('forecast.past.never') }}</span>
              </td>
            </tr>
          </tbody>
        </table>
        <p class="soft">
          {{ t('forecast.past.held', { held: data.held, of: data.of }) }}
        </p>
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
.out {
  color: var(--red);
}
.came {
  font-weight: 600;
}
.stale {
  opacity: 0.6;
}
</style>
