<script setup lang="ts">
/** All mails that one sees, those of every customer: what came in, what went out, what waits for an answer. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, take, type Shapes } from '@/api/client'
import type { operations } from '@/api/schema'
import { moment } from '@/kit/format/format'
import { counted, countedHint } from '@/kit/list/counted'
import DaysFilter from '@/kit/list/DaysFilter.vue'
import FindField from '@/kit/list/FindField.vue'
import ListPage from '@/kit/list/ListPage.vue'
import RepFilter from '@/kit/list/RepFilter.vue'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { useColumns } from '@/kit/list/useColumns'
import { useFilters } from '@/kit/list/useFilters'
import { maybe, t, tn } from '@/words'
import { stateOf } from './states'

type Row = Shapes['MailRow']
type Query = NonNullable<operations['list_all_mails']['parameters']['query']>
const router = useRouter()
const { filters, values } = useFilters({
  way: '',
  waits: '',
  owner: '',
  words: '',
  since: '',
  until: '',
  sort: '-at',
  page: '1',
})
const columns = useColumns('mails', () => [
  { key: 'at', label: t('mails.at'), sort: 'at', fixed: true, fields: 'at,way,state' },
  { key: 'subject', label: t('mails.subject'), fixed: true, fields: 'subject,words' },
  { key: 'who', label: t('mails.who'), fields: 'who,whom' },
  { key: 'customer', label: t('mails.customer') },
  { key: 'files', label: t('mails.files') },
])
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['mails', 'all', values.value]),
  queryFn: ({ signal }) => {
    const given = Object.entries(values.value).filter(([, value]) => value)
    const params = { query: Object.fromEntries(given) as Query }
    return take(api.GET('/api/mail-list', { params, signal }))
  },
  placeholderData: (before) => before,
})
const ways = (['', 'in', 'out'] as const).map((value) => ({
  value,
  label: value ? t(`mails.ways.${value}`) : t('list.all'),
}))
const waits = computed({
  get: () => values.value.waits === 'true',
  set: (on) => (filters.waits.value = on ? 'true' : ''),
})
const sums = computed(() =>
  data.value ? [{ label: t('mail.title'), value: counted(data.value), main: true }] : [],
)
/** Ways are counted by themselves: a mail that came and one that went may have one key. */
const idOf = ({ id, way }: Row) => id * 2 + Number(way === 'out')
const people = ({ way, who, whom }: Row) => (way === 'in' ? who : t('mails.toWhom', { who, whom }))
</script>

<template>
  <ListPage
    :id="idOf"
    v-model:sort="filters.sort.value"
    v-model:page="filters.page.value"
    :title="t('mail.title')"
    place="mails"
    :values="values"
    :columns="columns"
    :found="data"
    :error="error"
    :stale="isPlaceholderData"
    :to="(row) => row.to"
    :nothing="t('mails.none')"
    :sums="sums"
    :hint="countedHint(data, (n) => tn('mails.inFilter', n))"
    @again="refetch()"
    @open="(row) => router.push(row.to)"
  >
    <template #filters>
      <FindField v-model="filters.words.value" :label="t('mails.find')" />
      <SegmentFilter v-model="filters.way.value" :choices="ways" :label="t('mails.way')" />
      <ElCheckbox v-model="waits">{{ t('mail.waits') }}</ElCheckbox>
      <RepFilter v-model="filters.owner.value" />
      <DaysFilter v-model:since="filters.since.value" v-model:until="filters.until.value" />
    </template>
    <template #nothing>{{ t('mails.noneHint') }}</template>
    <template #at="{ row }">
      {{ moment(row.at) }}
      <small :class="['state', row.way, row.state]">{{ stateOf(row) }}</small>
    </template>
    <template #who="{ row }">{{ people(row) }}</template>
    <template #subject="{ row }">
      <b>{{ row.subject }}</b>
      <span class="words soft"
        ><b v-if="maybe(`mail.says.${row.says}`)">{{ maybe(`mail.says.${row.says}`) }}</b>
        {{ row.words }}</span
      >
    </template>
    <template #files="{ row }">{{ row.files || '' }}</template>
  </ListPage>
</template>

<style scoped>
.state {
  display: block;
  color: var(--ink-2);
  white-space: nowrap;
}
.state.waits {
  color: var(--coral);
  font-weight: 600;
}
.state.unknown,
.state.refused,
.state.bounced {
  color: var(--red);
  font-weight: 600;
}
.words {
  font-weight: 400;
  display: -webkit-box;
  max-width: 62ch;
  overflow: hidden;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 1;
  line-clamp: 1;
}
</style>
