<script setup lang="ts">
/** Prices: the check that everybody may ask, and the records that an administrator keeps. */
import { computed } from 'vue'
import { me } from '@/api/session'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { useFilters } from '@/kit/list/useFilters'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'
import KeptCases from './KeptCases.vue'
import PriceCheck from './PriceCheck.vue'
import PriceRecords from './PriceRecords.vue'
import { kindName, useKinds } from './queries'

const { filters, values } = useFilters({
  part: 'check',
  words: '',
  page: '1',
  customer: '',
  item: '',
  quantity: '1',
})
const { data, error, refetch } = useKinds()
const kind = computed(() => data.value?.find((k) => k.name === values.value.part))
const parts = computed(() => [
  { value: 'check', label: t('prices.check.title') },
  ...(data.value ?? []).map((k) => ({ value: k.name, label: kindName(k) })),
  ...(me.value?.keeps ? [{ value: 'cases', label: t('prices.cases.title') }] : []),
])
</script>

<template>
  <div class="page">
    <header class="top">
      <h1>{{ t('app.places.prices') }}</h1>
      <SegmentFilter v-model="filters.part.value" :choices="parts" :label="t('prices.part')" />
    </header>
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <KeptCases
      v-else-if="values.part === 'cases' && me?.keeps"
      v-model:words="filters.words.value"
      v-model:page="filters.page.value"
    />
    <PriceCheck
      v-else-if="!kind"
      v-model:customer="filters.customer.value"
      v-model:item="filters.item.value"
      v-model:quantity="filters.quantity.value"
    />
    <PriceRecords
      v-else
      :key="kind.name"
      v-model:words="filters.words.value"
      v-model:page="filters.page.value"
      :kind="kind"
    />
  </div>
</template>

<style scoped>
.top {
  display: flex;
  gap: 8px 18px;
  align-items: baseline;
  flex-wrap: wrap;
  margin-bottom: 10px;
}
</style>
