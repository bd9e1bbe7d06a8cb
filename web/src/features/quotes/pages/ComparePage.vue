<script setup lang="ts">
/** Any two revisions side by side: lines, prices, sums, terms; what differs is marked. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import { figure } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'
import ComparisonTable from '@/features/quotes/folds/ComparisonTable.vue'

const route = useRoute()
const router = useRouter()
const id = computed(() => Number(route.params.id))
const other = computed(() => Number(route.query.with ?? 0))
const { data, error, refetch } = useQuery({
  queryKey: computed(() => ['compare', id.value, other.value]),
  queryFn: () =>
    take(
      api.GET('/api/revisions/{revision_id}/compare', {
        params: { path: { revision_id: id.value }, query: { other: other.value } },
      }),
    ),
})
const beforeId = computed(
  () => data.value?.revisions.find((r) => r.letter === data.value?.before)?.id,
)

const choices = computed(() =>
  (data.value?.revisions ?? []).map((r) => ({
    value: r.id,
    label: t(r.issued_at ? 'quotes.compare.issued' : 'quotes.compare.draft', {
      letter: r.letter,
      payable: figure(r.payable),
    }),
  })),
)
function pick(which: 'before' | 'after', chosen: number | null): void {
  if (chosen === null) return
  if (which === 'before') void router.replace({ query: { with: String(chosen) } })
  else void router.replace(`/quotes/${chosen}/compare?with=${beforeId.value}`)
}
</script>

<template>
  <div class="page">
    <LoadState v-if="!data" :error="error" :rows="12" @again="refetch()" />
    <template v-else>
      <header class="top">
        <h1>{{ data.customer }}</h1>
        <p class="soft">{{ t('quotes.compare.what', { number: data.number }) }}</p>
        <span class="chips">
          <ChoiceField
            v-for="side in ['before', 'after'] as const"
            :key="side"
            class="pick"
            :model-value="side === 'before' ? (beforeId ?? null) : id"
            :choices="choices"
            :label="t(side === 'before' ? 'quotes.compare.earlier' : 'quotes.compare.later')"
            bare
            @update:model-value="(chosen) => pick(side, chosen)"
          />
          <RouterLink class="btn" :to="`/quotes/${id}`">{{
            t('quotes.compare.back', { letter: data.after })
          }}</RouterLink>
        </span>
      </header>
      <ComparisonTable :data="data" />
    </template>
  </div>
</template>

<style scoped>
.top {
  display: flex;
  align-items: baseline;
  gap: 6px 14px;
  flex-wrap: wrap;
  margin-bottom: 10px;
}
.top p {
  flex: 1;
}
.pick {
  width: 190px;
}
</style>
