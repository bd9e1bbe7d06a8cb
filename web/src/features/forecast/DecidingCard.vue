<script setup lang="ts">
/** The deals that decide a month; left out or taken in to see what that means. Nothing is stored. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import { figure } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { t, tn } from '@/words'
import { chanceOf, hundredths, monthKey, nameOf, swingOf, type Period } from './outlook'

const props = defineProps<{
  periods: Period[]
  values: { owner: string; confidence: string }
  season: string
  chances: string
}>()
const months = computed(() => props.periods.filter((each) => !each.quarter))
const choices = computed(() =>
  months.value.map((each) => ({ value: monthKey(each), label: nameOf(each) })),
)
const chosen = ref('')
/** The one that is chosen; else the first in which anything is to be decided. */
const month = computed(() => {
  const there = choices.value.some(({ value }) => value === chosen.value)
  const first = months.value.find((each) => each.count) ?? months.value[0]
  return there ? chosen.value : first ? monthKey(first) : ''
})
const leftOut = ref<number[]>([])
watch([month, () => props.values], () => (leftOut.value = []), { deep: true })
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['forecast', 'deciding', props.values, props.season, props.chances, month.value, leftOut.value]), // prettier-ignore
  queryFn: ({ signal }) => {
    const { owner, confidence } = props.values
    const query = {
      owner: owner ? Number(owner) : undefined,
      confidence,
      season: Number(props.season) || 0,
      chances: props.chances === 'learnt' ? ('learnt' as const) : ('' as const),
      month: month.value,
      left_out: leftOut.value,
    }
    return take(api.GET('/api/forecast/deciding', { params: { query }, signal }))
  },
  enabled: computed(() => month.value !== ''),
  placeholderData: (before) => before,
})
const isIn = (deal: Shapes['DecidingDeal']) => !leftOut.value.includes(deal.id)
function turn(deal: Shapes['DecidingDeal']): void {
  leftOut.value = isIn(deal)
    ? [...leftOut.value, deal.id]
    : leftOut.value.filter((id) => id !== deal.id)
}
function from(deal: Shapes['DecidingDeal']): string {
  if (deal.own) return t('forecast.deciding.own', { reason: deal.reason })
  return deal.learnt_from === null ? deal.stage : tn('forecast.deciding.learnt', deal.learnt_from)
}
const sentence = computed(() => {
  const d = data.value
  if (!d) return ''
  const target = figure(d.target)
  const goal = d.target_set
    ? t('forecast.outlook.reach', { target })
    : t('forecast.deciding.middle', { target })
  if (!leftOut.value.length) return `${chanceOf(d.chance)} ${goal}`
  const facts = { before: hundredths(d.chance), after: hundredths(d.without) }
  return `${t('forecast.deciding.change', facts)} ${goal}`
})
</script>

<template>
  <section class="card deciding" :class="{ stale: isPlaceholderData }">
    <header>
      <h2>{{ t('forecast.deciding.title') }}</h2>
      <ChoiceField
        bare
        small
        class="month"
        :model-value="month"
        :choices="choices"
        :label="t('forecast.monthHead')"
        @update:model-value="(now) => (chosen = String(now ?? ''))"
      />
      <span class="soft">{{ t('forecast.deciding.hint') }}</span>
    </header>
    <LoadState v-if="!data" :error="error" :rows="3" @again="refetch()" />
    <EmptyState v-else-if="!data.deals.length" :title="t('forecast.deciding.none')" />
    <template v-else>
      <div class="scroll">
        <table class="list">
          <thead>
            <tr>
              <th>{{ t('forecast.deciding.in') }}</th>
              <th>{{ t('forecast.deciding.deal') }}</th>
              <th class="num">{{ t('deals.form.amount') }}</th>
              <th class="num">{{ t('forecast.deciding.likely') }}</th>
              <th>{{ t('forecast.deciding.from') }}</th>
              <th class="num">{{ t('forecast.deciding.swings') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="deal in data.deals" :key="deal.id" :class="{ out: !isIn(deal) }">
              <td>
                <ElCheckbox
                  :model-value="isIn(deal)"
                  :aria-label="t('forecast.deciding.inOf', { deal: deal.title })"
                  @change="turn(deal)"
                />
              </td>
              <td>
                <RouterLink :to="`/deals/${deal.id}`">{{ deal.title }}</RouterLink>
                <span class="soft"> · {{ deal.customer }}</span>
              </td>
              <td class="num">{{ figure(deal.amount) }}</td>
              <td class="num">{{ figure(deal.probability) }} %</td>
              <td class="soft">{{ from(deal) }}</td>
              <td class="num">{{ swingOf(deal.swing) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <p class="sentence" aria-live="polite">{{ sentence }}</p>
    </template>
  </section>
</template>

<style scoped>
.deciding {
  margin-top: 12px;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
}
.month {
  width: 170px;
  margin: 0;
}
.out td {
  background: var(--amber-soft);
}
.sentence {
  margin-top: 8px;
}
.stale {
  opacity: 0.6;
}
</style>
