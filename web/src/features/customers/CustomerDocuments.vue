<script setup lang="ts">
/** Every document of a customer, found by kind, words and days; the filters stay in the address. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '@/api/client'
import type { operations } from '@/api/schema'
import { me } from '@/api/session'
import { day, figure, todayIso } from '@/kit/format/format'
import DaysFilter from '@/kit/list/DaysFilter.vue'
import FindField from '@/kit/list/FindField.vue'
import ListPages from '@/kit/list/ListPages.vue'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { counted } from '@/kit/list/counted'
import { useFilters } from '@/kit/list/useFilters'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'
import { documentName, documentState } from './documentWords'

const props = defineProps<{ customer: number }>()
const { filters, values } = useFilters({ kind: '', words: '', since: '', until: '', page: '1' })
type Query = NonNullable<operations['list_documents']['parameters']['query']>
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['customer', props.customer, 'documents', values.value]),
  queryFn: ({ signal }) => {
    const given = Object.entries(values.value).filter(([, value]) => value)
    const params = {
      path: { customer_id: props.customer },
      query: Object.fromEntries(given) as Query,
    }
    return take(api.GET('/api/customers/{customer_id}/documents', { params, signal }))
  },
  placeholderData: (before) => before,
})
const KINDS = ['open', 'quote', 'order', 'delivery', 'invoice', 'credit', 'payment'] as const
const choices = computed(() => [
  { value: '', label: t('list.all') },
  ...KINDS.filter((kind) => me.value?.sells || kind !== 'quote').map((value) => ({
    value,
    label: t(`customers.documents.${value}s`),
  })),
])
const narrowed = computed(() =>
  (['kind', 'words', 'since', 'until'] as const).some((name) => values.value[name]),
)
function all(): void {
  values.value = { kind: '', words: '', since: '', until: '', page: '1' }
}
</script>

<template>
  <section id="documents" class="card" :aria-label="t('customers.documents.title')">
    <header>
      <h2>{{ t('customers.documents.title') }}</h2>
      <span class="soft">{{ counted(data) }}</span>
    </header>
    <div class="filters">
      <SegmentFilter
        v-model="filters.kind.value"
        :choices="choices"
        :label="t('customers.documents.kind')"
      />
      <FindField v-model="filters.words.value" :label="t('customers.documents.find')" />
      <DaysFilter v-model:since="filters.since.value" v-model:until="filters.until.value" />
      <ElButton v-if="narrowed" size="small" text @click="all">{{
        t('customers.documents.allAgain')
      }}</ElButton>
    </div>
    <LoadState v-if="!data" :error="error" :rows="6" @again="refetch()" />
    <EmptyState
      v-else-if="!data.rows.length"
      :title="t(narrowed ? 'customers.documents.noneSuch' : 'customers.documents.none')"
      >{{
        t(narrowed ? 'customers.documents.noneSuchHint' : 'customers.documents.noneHint')
      }}</EmptyState
    >
    <div v-else class="scroll" :class="{ stale: isPlaceholderData }">
      <table class="list">
        <tbody>
          <tr v-for="each in data.rows" :key="each.kind + each.number">
            <td>
              <RouterLink :to="each.to">{{ documentName(each.kind, each.number) }}</RouterLink>
            </td>
            <td :class="{ soft: each.on <= todayIso() }">{{ day(each.on) }}</td>
            <td class="num">{{ each.amount ? `${figure(each.amount)} ${each.currency}` : '' }}</td>
            <td>{{ documentState(each.kind, each.state) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <ListPages v-if="data" v-model="filters.page.value" :pages="data.pages" />
  </section>
</template>

<style scoped>
.filters {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin-bottom: 8px;
}
</style>
