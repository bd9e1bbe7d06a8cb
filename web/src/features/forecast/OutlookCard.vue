<script setup lang="ts">
/** What may be won against the targets; a season that all deals share can be tried. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import ExportLinks from '@/kit/list/ExportLinks.vue'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { t, tn } from '@/words'
import DecidingCard from './DecidingCard.vue'
import MovedCard from './MovedCard.vue'
import { monthKey } from './outlook'
import OutlookRows from './OutlookRows.vue'
import { useWhatIf } from './useWhatIf'
import WordsCard from './WordsCard.vue'
import { asked, linked, type Whose } from './whose'

const props = defineProps<{
  values: Whose
  deals: (filter: { month?: string; state?: string }) => string
  /** Whether the targets are open below. */
  setting: boolean
}>()
const emit = defineEmits<{ targets: [] }>()
const season = defineModel<string>('season', { required: true })
const chances = defineModel<string>('chances', { required: true })
const since = defineModel<string>('since', { required: true })
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['forecast', 'outlook', props.values, season.value, chances.value]),
  queryFn: ({ signal }) => {
    const query = {
      ...asked(props.values),
      season: Number(season.value) || 0,
      chances: chances.value === 'learnt' ? ('learnt' as const) : ('' as const),
    }
    return take(api.GET('/api/forecast/outlook', { params: { query }, signal }))
  },
  placeholderData: (before) => before,
})
/** The month that is looked at: the chosen one; else the first in which anything is to be decided. */
const chosen = ref('')
const month = computed({
  get: () => {
    const months = (data.value?.periods ?? []).filter((each) => !each.quarter)
    if (months.some((each) => monthKey(each) === chosen.value)) return chosen.value
    const first = months.find((each) => each.count) ?? months[0]
    return first ? monthKey(first) : ''
  },
  set: (now) => (chosen.value = now),
})
const whatIf = useWhatIf(
  computed(() => ({
    whose: props.values,
    season: season.value,
    chances: chances.value,
    month: month.value,
  })),
)
const periods = computed(() => whatIf.answer.value?.periods ?? data.value?.periods ?? [])
const SEASONS = { none: '', weak: '30', strong: '60' }
const seasons = Object.entries(SEASONS).map(([name, value]) => ({
  value,
  label: t(`forecast.outlook.seasons.${name as keyof typeof SEASONS}`),
}))
const ways = [
  { value: '', label: t('forecast.outlook.called') },
  { value: 'learnt', label: t('forecast.outlook.learnt') },
]
</script>

<template>
  <section class="card" :class="{ stale: isPlaceholderData }">
    <header>
      <h2>{{ t('forecast.outlook.title') }}</h2>
      <span class="soft">{{
        data ? t('forecast.outlook.hint', { currency: data.currency }) : ''
      }}</span>
      <ul class="key" aria-hidden="true">
        <li><i class="won" />{{ t('forecast.outlook.won') }}</li>
        <li><i class="range" />{{ t('forecast.outlook.range') }}</li>
        <li><i class="target" />{{ t('forecast.outlook.target') }}</li>
      </ul>
    </header>
    <LoadState v-if="!data" :error="error" :rows="6" @again="refetch()" />
    <OutlookRows
      v-else
      :periods="periods"
      :before="whatIf.answer.value ? data.periods : undefined"
      :deals="deals"
    />
    <p v-if="whatIf.count.value" class="thinking">
      {{ tn('forecast.deciding.thinking', whatIf.count.value) }}
    </p>
    <footer class="on-screen">
      <span :title="t('forecast.outlook.seasonHint')">{{ t('forecast.outlook.season') }}</span>
      <SegmentFilter v-model="season" :choices="seasons" :label="t('forecast.outlook.season')" />
      <span :title="t('forecast.outlook.learntHint')">{{ t('forecast.outlook.chances') }}</span>
      <SegmentFilter v-model="chances" :choices="ways" :label="t('forecast.outlook.chances')" />
      <span class="soft">{{
        season ? t('forecast.outlook.seasonHint') : chances ? t('forecast.outlook.learntHint') : ''
      }}</span>
      <ExportLinks path="/api/forecast/outlook" :values="{ ...linked(values), season, chances }" />
      <ElButton size="small" :aria-expanded="setting" @click="emit('targets')">{{
        t('forecast.targets.open')
      }}</ElButton>
    </footer>
  </section>
  <slot name="below" />
  <template v-if="data">
    <DecidingCard
      v-model:month="month"
      :periods="data.periods"
      :values="values"
      :season="season"
      :chances="chances"
      :what-if="whatIf"
    />
    <MovedCard v-model:since="since" :periods="data.periods" :values="values" />
    <WordsCard :periods="data.periods" />
  </template>
</template>

<style scoped src="./key.css" />

<style scoped>
header,
footer {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
}
footer {
  margin-top: 8px;
}
.key .won {
  background: var(--ink);
}
.key .range {
  border: 1px solid var(--teal);
  border-radius: 6px;
  background: color-mix(in srgb, var(--teal) 22%, transparent);
}
.thinking {
  margin-top: 6px;
  padding: 4px 10px;
  border-left: 4px solid var(--amber);
  background: var(--amber-soft);
}
.stale {
  opacity: 0.6;
}
</style>
