<script setup lang="ts">
/** Leads as a table: what to do next with whom. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { me } from '@/api/session'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import { day } from '@/kit/format/format'
import { useKeys } from '@/kit/keys/useKeys'
import { counted, countedHint } from '@/kit/list/counted'
import FindField from '@/kit/list/FindField.vue'
import ListPage from '@/kit/list/ListPage.vue'
import RepFilter from '@/kit/list/RepFilter.vue'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { useColumns } from '@/kit/list/useColumns'
import { useFilters } from '@/kit/list/useFilters'
import { t, tn } from '@/words'
import { strangersQuery, useLeadPage } from './queries'
import { sourceChoices, sourceName } from './sources'

const router = useRouter()
const { filters, values } = useFilters({
  state: 'open',
  source: '',
  owner: '',
  due: '',
  words: '',
  sort: '-newest',
  page: '1',
})
const columns = useColumns('leads', () => [
  { key: 'company', label: t('leads.company'), sort: 'company', fixed: true },
  { key: 'name', label: t('leads.name') },
  { key: 'topic', label: t('leads.topic') },
  { key: 'phone', label: t('leads.phone') },
  { key: 'source', label: t('leads.source') },
  { key: 'next_step', label: t('leads.nextStep') },
  { key: 'next_on', label: t('leads.nextOn'), sort: 'next' },
  { key: 'owner', label: t('list.rep'), extra: !me.value?.leads },
])
const { data, error, refetch, isPlaceholderData } = useLeadPage(values)
const { data: strangers } = useQuery(strangersQuery)
const states = ['open', 'qualified', 'disqualified', ''].map((value) => ({
  value,
  label: value ? t(`leads.states.${value as 'open'}`) : t('list.all'),
}))
const sources = computed(() => [{ value: '', label: t('leads.anySource') }, ...sourceChoices()])
const due = computed({
  get: () => values.value.due === 'true',
  set: (on) => (filters.due.value = on ? 'true' : ''),
})
const sums = computed(() =>
  data.value ? [{ label: t('leads.title'), value: counted(data.value), main: true }] : [],
)
useKeys(() => ({
  title: t('leads.title'),
  keys: [{ keys: 'N', does: t('leads.newKey'), act: () => void router.push('/leads/new') }],
}))
</script>

<template>
  <ListPage
    :id="(lead) => lead.id"
    v-model:sort="filters.sort.value"
    v-model:page="filters.page.value"
    :title="t('leads.title')"
    place="leads"
    :values="values"
    :columns="columns"
    :found="data"
    :error="error"
    :stale="isPlaceholderData"
    :to="(lead) => `/leads/${lead.id}`"
    :nothing="t('leads.none')"
    :sums="sums"
    :hint="countedHint(data, (n) => tn('leads.inFilter', n))"
    @again="refetch()"
    @open="(lead) => router.push(`/leads/${lead.id}`)"
  >
    <template #starts>
      <RouterLink v-if="strangers?.length" class="btn" to="/leads/strangers">{{
        tn('leads.strangers.open', strangers.length)
      }}</RouterLink>
      <RouterLink class="btn" to="/leads/file">{{ t('leads.fromFile') }}</RouterLink>
      <RouterLink class="btn act" to="/leads/new">{{ t('leads.new') }}</RouterLink>
    </template>
    <template #filters>
      <FindField v-model="filters.words.value" :label="t('leads.find')" />
      <SegmentFilter v-model="filters.state.value" :choices="states" :label="t('list.state')" />
      <ChoiceField
        class="pick"
        :model-value="filters.source.value"
        :choices="sources"
        :label="t('leads.source')"
        bare
        small
        @update:model-value="(source) => (filters.source.value = source ?? '')"
      />
      <RepFilter v-model="filters.owner.value" />
      <ElCheckbox v-model="due">{{ t('leads.due') }}</ElCheckbox>
    </template>
    <template #nothing>
      {{ t('leads.noneHint') }}
      <RouterLink to="/leads/new">{{ t('leads.new') }}</RouterLink>
    </template>
    <template #company="{ row }">{{ row.company || row.name }}</template>
    <template #source="{ row }">{{ row.source ? sourceName(row.source) : '' }}</template>
    <template #next_on="{ row }"
      ><span :class="{ late: row.due }">{{ row.next_on ? day(row.next_on) : '' }}</span></template
    >
  </ListPage>
</template>

<style scoped>
.pick {
  width: 160px;
}
</style>
