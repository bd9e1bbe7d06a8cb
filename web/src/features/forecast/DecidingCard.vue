<script setup lang="ts">
/** The deals that decide a month, and what becomes of the forecast if they come otherwise. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import PickField, { type Pick } from '@/kit/form/PickField.vue'
import { day, figure } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'
import DecidingRows from './DecidingRows.vue'
import { chanceOf, hundredths, monthKey, nameOf, type Period } from './outlook'
import type { WhatIf } from './useWhatIf'
import WhatIfBar from './WhatIfBar.vue'
import { asked, type Whose } from './whose'

const props = defineProps<{
  periods: Period[]
  values: Whose
  season: string
  chances: string
  whatIf: WhatIf
}>()
const month = defineModel<string>('month', { required: true })
const choices = computed(() =>
  props.periods
    .filter((each) => !each.quarter)
    .map((each) => ({ value: monthKey(each), label: nameOf(each) })),
)
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['forecast', 'deciding', props.values, props.season, props.chances, month.value]), // prettier-ignore
  queryFn: ({ signal }) => {
    const query = {
      ...asked(props.values),
      season: Number(props.season) || 0,
      chances: props.chances === 'learnt' ? ('learnt' as const) : ('' as const),
      month: month.value,
    }
    return take(api.GET('/api/forecast/deciding', { params: { query }, signal }))
  },
  enabled: computed(() => month.value !== ''),
  placeholderData: (before) => before,
})
const { answer, count, thoughts, error: refused, stale } = props.whatIf
const shown = computed(() => answer.value?.deciding ?? data.value)
/** Of other months only those that are thought of are told, and only where they come into this one. */
const deals = computed(() =>
  (shown.value?.deals ?? []).filter(
    (deal) => deal.inside || deal.decision_on.startsWith(month.value) || added.value === deal.id,
  ),
)
const typing = ref(false)
/** A deal of another month that somebody takes in. */
const added = ref<number | null>(null)
async function find(words: string, signal: AbortSignal): Promise<Pick[]> {
  const { owner, customer, family } = asked(props.values)
  const query = { words, state: 'open' as const, owner, customer, family }
  const found = await take(api.GET('/api/deals', { params: { query }, signal }))
  return found.rows.slice(0, 12).map(({ id, title, customer, decision_on }) => ({
    id,
    label: title,
    detail: `${customer} · ${day(decision_on)}`,
  }))
}
async function nameOfDeal(id: number): Promise<Pick> {
  const found = await take(api.GET('/api/deals/{deal_id}', { params: { path: { deal_id: id } } }))
  return { id, label: found.title }
}
function takeIn(id: number | null): void {
  added.value = id
  const period = props.periods.find((each) => !each.quarter && monthKey(each) === month.value)
  if (id !== null && period) {
    thoughts.value = {
      ...thoughts.value,
      [id]: { ...thoughts.value[id], decision_on: period.last },
    }
  }
}
const sentence = computed(() => {
  const d = shown.value
  if (!d) return ''
  const target = figure(d.target)
  const goal = d.target_set
    ? t('forecast.outlook.reach', { target })
    : t('forecast.deciding.middle', { target })
  if (!count.value) return `${chanceOf(d.chance)} ${goal}`
  const facts = { before: hundredths(d.chance), after: hundredths(d.thought) }
  return `${t('forecast.deciding.change', facts)} ${goal}`
})
</script>

<template>
  <section
    class="card deciding"
    :aria-label="t('forecast.deciding.title')"
    :class="{ stale: isPlaceholderData || stale }"
  >
    <header>
      <h2>{{ t('forecast.deciding.title') }}</h2>
      <ChoiceField
        bare
        small
        class="month"
        :model-value="month"
        :choices="choices"
        :label="t('forecast.monthHead')"
        @update:model-value="(now) => (month = String(now ?? ''))"
      />
      <span class="soft">{{ t('forecast.deciding.hint') }}</span>
      <ElButton class="what" size="small" :aria-pressed="typing" @click="typing = !typing">{{
        typing ? t('forecast.deciding.whatIfEnd') : t('forecast.deciding.whatIf')
      }}</ElButton>
    </header>
    <LoadState v-if="!shown" :error="error" :rows="3" @again="refetch()" />
    <template v-else>
      <EmptyState v-if="!deals.length" :title="t('forecast.deciding.none')" />
      <DecidingRows v-else :deals="deals" :what-if="whatIf" :typing="typing" />
      <PickField
        v-if="typing"
        class="another"
        bare
        small
        :model-value="added"
        :label="t('forecast.deciding.another')"
        :placeholder="t('forecast.deciding.anotherHint')"
        :nothing="t('forecast.deciding.noOther')"
        :find="find"
        :name-of="nameOfDeal"
        @update:model-value="takeIn"
      />
      <p v-if="refused" class="fault" role="alert">{{ refused.message }}</p>
      <p v-else class="sentence" aria-live="polite">{{ sentence }}</p>
      <WhatIfBar v-if="count" :what-if="whatIf" />
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
.what {
  margin-left: auto;
}
.another {
  width: 260px;
  margin: 6px 0 0;
}
.sentence {
  margin-top: 8px;
}
.stale {
  opacity: 0.6;
}
</style>
