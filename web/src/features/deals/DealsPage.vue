<script setup lang="ts">
/** Deals as a table: filtered, sorted, summed, exported. */
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Shapes } from '@/api/client'
import { me } from '@/api/session'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import { day, figure, monthOf } from '@/kit/format/format'
import { useKeys } from '@/kit/keys/useKeys'
import { counted, countedHint } from '@/kit/list/counted'
import FindField from '@/kit/list/FindField.vue'
import ListPage from '@/kit/list/ListPage.vue'
import RepFilter from '@/kit/list/RepFilter.vue'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { useColumns } from '@/kit/list/useColumns'
import { useFilters } from '@/kit/list/useFilters'
import type { Sum } from '@/kit/show/SumBar.vue'
import CustomerFilter from '@/parts/customer/CustomerFilter.vue'
import { CONFIDENCES, confidenceChoices, confidenceName } from '@/parts/deal/confidence'
import { t, tn } from '@/words'
import { whyStale } from './chipWords'
import ManyDeals from './ManyDeals.vue'
import { useDealPage, useStages } from './queries'

const router = useRouter()
const { filters, values } = useFilters({
  state: 'open',
  stage: '',
  month: '',
  owner: '',
  team: '',
  customer: '',
  family: '',
  since: '',
  until: '',
  confidence: '',
  words: '',
  least: '',
  stale: '',
  helped: '',
  sort: 'decision',
  page: '1',
})
const base = computed(() => me.value?.base_currency ?? '')
const columns = useColumns('deals', () => [
  { key: 'customer', label: t('parts.customer.label'), sort: 'customer' },
  { key: 'title', label: t('deals.columns.title'), sort: 'title', fixed: true },
  { key: 'stage_name', label: t('deals.form.stage'), sort: 'stage' },
  { key: 'amount', label: t('deals.columns.amount', { currency: base.value }), sort: 'amount', num: true }, // prettier-ignore
  { key: 'probability', label: '%', sort: 'probability', num: true },
  { key: 'weighted', label: t('deals.form.weighted'), num: true },
  { key: 'decision_on', label: t('deals.columns.decision'), sort: 'decision' },
  { key: 'confidence', label: t('deals.form.confidence') },
  { key: 'stale', label: t('deals.stale.head'), extra: true },
  { key: 'owner', label: t('list.rep'), sort: 'owner', extra: !me.value?.leads },
])
const chosen = ref<number[]>([])
const stages = useStages()
const { data, error, refetch, isPlaceholderData } = useDealPage(values)
function summed(sums: Shapes['DealSums']): Sum[] {
  return [
    { label: t('deals.columns.amount', { currency: base.value }), value: figure(sums.amount) },
    { label: t('deals.form.weighted'), value: figure(sums.weighted), main: true },
    ...CONFIDENCES.filter((each) => sums.by_confidence[each]).map((each) => ({
      label: confidenceName(each),
      value: figure(sums.by_confidence[each]),
    })),
  ]
}
const sums = computed(() => {
  const found = data.value
  if (!found) return []
  return [
    { label: t('app.places.deals'), value: counted(found) },
    ...(found.sums ? summed(found.sums) : []),
  ]
})
const states = ['open', 'won', 'closed', ''].map((value) => ({
  value,
  label: value ? t(`deals.states.${value as 'open'}`) : t('list.all'),
}))
const stageChoices = computed(() => [
  { value: '', label: t('deals.anyStage') },
  ...(stages.data.value ?? []).map((s) => ({ value: s.code, label: s.name })),
])
const confidences = computed(() => [
  { value: '', label: t('deals.anyConfidence') },
  ...confidenceChoices(),
])
const gone = computed({
  get: () => values.value.month === 'overdue',
  set: (on) => (filters.month.value = on ? 'overdue' : ''),
})
const unattended = computed({
  get: () => values.value.stale !== '',
  set: (on) => (filters.stale.value = on ? 'true' : ''),
})
const helped = computed({
  get: () => values.value.helped !== '',
  set: (on) => (filters.helped.value = on ? 'true' : ''),
})
const inMonth = computed(() =>
  values.value.month && !gone.value ? monthOf(values.value.month) : '',
)
const over = computed(() =>
  values.value.least ? t('board.large', { amount: figure(values.value.least) }) : '',
)
const between = computed(() => {
  const { since, until } = values.value
  if (!since && !until) return ''
  return t('deals.decidedBetween', { since: day(since), until: day(until) })
})
useKeys(() => ({
  title: t('app.places.deals'),
  keys: [{ keys: 'T', does: t('deals.timetableKey'), act: () => void router.push('/timetable') }],
}))
</script>

<template>
  <ListPage
    :id="(deal) => deal.id"
    v-model:sort="filters.sort.value"
    v-model:page="filters.page.value"
    :chosen="values.helped ? undefined : chosen"
    :title="t('app.places.deals')"
    place="deals"
    :values="values"
    :columns="columns"
    :found="data"
    :error="error"
    :stale="isPlaceholderData"
    :to="(deal) => `/deals/${deal.id}`"
    :nothing="t('deals.none')"
    :sums="sums"
    :hint="countedHint(data, (n) => tn('deals.inFilter', n))"
    @update:chosen="(now) => (chosen = now ?? [])"
    @again="refetch()"
    @open="(deal) => router.push(`/deals/${deal.id}`)"
  >
    <template #head>
      <p v-if="inMonth" class="soft">{{ t('deals.decisionIn', { month: inMonth }) }}</p>
    </template>
    <template #starts>
      <RouterLink class="btn" to="/leads">{{ t('leads.title') }}</RouterLink>
      <RouterLink class="btn" to="/timetable">{{ t('board.title') }} <kbd>T</kbd></RouterLink>
      <RouterLink class="btn act" to="/deals/new">{{ t('deals.new.title') }}</RouterLink>
    </template>
    <template #filters>
      <FindField v-model="filters.words.value" :label="t('deals.find')" />
      <SegmentFilter v-model="filters.state.value" :choices="states" :label="t('list.state')" />
      <ChoiceField
        class="pick"
        :model-value="filters.stage.value"
        :choices="stageChoices"
        :label="t('deals.form.stage')"
        bare
        small
        @update:model-value="(stage) => (filters.stage.value = stage ?? '')"
      />
      <ChoiceField
        class="pick"
        :model-value="filters.confidence.value"
        :choices="confidences"
        :label="t('deals.form.confidence')"
        bare
        small
        @update:model-value="(chosen) => (filters.confidence.value = chosen ?? '')"
      />
      <RepFilter v-model="filters.owner.value" v-model:team="filters.team.value" />
      <CustomerFilter v-model="filters.customer.value" v-model:family="filters.family.value" />
      <ElCheckbox v-model="gone">{{ t('deals.gone') }}</ElCheckbox>
      <ElCheckbox v-model="unattended" :title="t('board.staleHint')">{{
        t('board.stale')
      }}</ElCheckbox>
      <ElCheckbox v-if="!me?.leads" v-model="helped">{{ t('deals.team.helped') }}</ElCheckbox>
      <ElButton v-if="inMonth" size="small" @click="filters.month.value = ''"
        >{{ inMonth }} ×</ElButton
      >
      <ElButton v-if="over" size="small" @click="filters.least.value = ''">{{ over }} ×</ElButton>
      <ElButton v-if="between" size="small" @click="values = { ...values, since: '', until: '' }"
        >{{ between }} ×</ElButton
      >
    </template>
    <template v-if="chosen.length && !helped" #below>
      <ManyDeals :chosen="chosen" :rows="data?.rows ?? []" @done="chosen = []" />
    </template>
    <template #nothing>
      {{ t('deals.noneHint') }}
      <RouterLink to="/deals/new">{{ t('deals.new.title') }}</RouterLink>
    </template>
    <template #amount="{ row }"
      ><span v-if="!row.quoted" class="soft">{{ t('deals.estimated') }}</span>
      {{ figure(row.amount) }}</template
    >
    <template #probability="{ row }">{{ figure(row.probability) }}</template>
    <template #weighted="{ row }">{{ figure(row.weighted) }}</template>
    <template #decision_on="{ row }"
      ><span :class="{ late: row.overdue }"
        >{{ day(row.decision_on) }}{{ row.overdue ? t('deals.goneBy') : '' }}</span
      ></template
    >
    <template #stale="{ row }"
      ><span class="late">{{ whyStale(row).join(', ') }}</span></template
    >
    <template #confidence="{ row }">{{ confidenceName(row.confidence) }}</template>
  </ListPage>
</template>

<style scoped>
.pick {
  width: 150px;
}
kbd {
  font: 11px var(--font);
  color: var(--ink-2);
  border: 1px solid var(--rule);
  border-radius: 3px;
  padding: 0 4px;
}
</style>
