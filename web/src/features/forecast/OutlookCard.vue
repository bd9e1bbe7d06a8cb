<script setup lang="ts">
/** What may be won against the targets; a season that all deals share can be tried. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '@/api/client'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'
import DecidingCard from './DecidingCard.vue'
import OutlookRows from './OutlookRows.vue'

const props = defineProps<{
  values: { owner: string; confidence: string }
  deals: (filter: { month?: string; state?: string }) => string
  /** Whether the targets are open below. */
  setting: boolean
}>()
const emit = defineEmits<{ targets: [] }>()
const season = defineModel<string>('season', { required: true })
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['forecast', 'outlook', props.values, season.value]),
  queryFn: ({ signal }) => {
    const { owner, confidence } = props.values
    const query = {
      owner: owner ? Number(owner) : undefined,
      confidence,
      season: Number(season.value) || 0,
    }
    return take(api.GET('/api/forecast/outlook', { params: { query }, signal }))
  },
  placeholderData: (before) => before,
})
const SEASONS = { none: '', weak: '30', strong: '60' }
const seasons = Object.entries(SEASONS).map(([name, value]) => ({
  value,
  label: t(`forecast.outlook.seasons.${name as keyof typeof SEASONS}`),
}))
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
    <OutlookRows v-else :periods="data.periods" :deals="deals" />
    <footer>
      <span :title="t('forecast.outlook.seasonHint')">{{ t('forecast.outlook.season') }}</span>
      <SegmentFilter v-model="season" :choices="seasons" :label="t('forecast.outlook.season')" />
      <span class="soft">{{ season ? t('forecast.outlook.seasonHint') : '' }}</span>
      <ElButton size="small" :aria-expanded="setting" @click="emit('targets')">{{
        t('forecast.targets.open')
      }}</ElButton>
    </footer>
  </section>
  <slot name="below" />
  <DecidingCard v-if="data" :periods="data.periods" :values="values" :season="season" />
</template>

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
footer > :last-child {
  margin-left: auto;
}
.key {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  margin: 0 0 0 auto;
  padding: 0;
  list-style: none;
  font-size: 12.5px;
  color: var(--ink-2);
}
.key li {
  display: flex;
  gap: 6px;
  align-items: center;
}
.key i {
  width: 24px;
  height: 11px;
}
.key .won {
  background: var(--ink);
}
.key .range {
  border: 1px solid var(--teal);
  border-radius: 6px;
  background: color-mix(in srgb, var(--teal) 22%, transparent);
}
.key .target {
  width: 13px;
  height: 13px;
  border: 4px solid var(--coral);
  border-radius: 50%;
}
.stale {
  opacity: 0.6;
}
</style>
