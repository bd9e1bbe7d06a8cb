<script setup lang="ts">
/** Prices: the check that everybody may ask, and the records that an administrator keeps. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '@/api/client'
import LoadState from '@/kit/show/LoadState.vue'
import { useFilters } from '@/kit/list/useFilters'
import { me } from '@/api/session'
import KeptCases from './KeptCases.vue'
import PriceCheck from './PriceCheck.vue'
import PriceRecords from './PriceRecords.vue'

const { filters, values } = useFilters({
  part: 'check',
  words: '',
  page: '1',
  customer: '',
  item: '',
  quantity: '1',
})
const { data, error, refetch } = useQuery({
  queryKey: ['price-kinds'],
  queryFn: () => take(api.GET('/api/prices/kinds')),
  staleTime: 600_000,
})
const kind = computed(() => data.value?.find((k) => k.name === values.value.part))
</script>

<template>
  <div class="page">
    <header class="top">
      <h1>Prices</h1>
      <div class="chips" role="group" aria-label="Part">
        <button
          class="btn small"
          :aria-pressed="values.part === 'check'"
          @click="filters.part.value = 'check'"
        >
          Price check
        </button>
        <button
          v-for="k in data ?? []"
          :key="k.name"
          class="btn small"
          :aria-pressed="values.part === k.name"
          @click="filters.part.value = k.name"
        >
          {{ k.label }}
        </button>
        <button
          v-if="me?.role === 'admin'"
          class="btn small"
          :aria-pressed="values.part === 'cases'"
          @click="filters.part.value = 'cases'"
        >
          Kept cases
        </button>
      </div>
    </header>
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <KeptCases
      v-else-if="values.part === 'cases' && me?.role === 'admin'"
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
