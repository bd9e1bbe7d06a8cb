<script setup lang="ts">
/** Any two revisions side by side: lines, prices, sums, terms; what differs is marked. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import { figure } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
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

function pick(which: 'before' | 'after', event: Event): void {
  const chosen = (event.target as HTMLSelectElement).value
  if (which === 'before') void router.replace({ query: { with: chosen } })
  else void router.replace(`/quotes/${chosen}/compare?with=${beforeId.value}`)
}
</script>

<template>
  <div class="page">
    <LoadState v-if="!data" :error="error" :rows="12" @again="refetch()" />
    <template v-else>
      <header class="top">
        <h1>{{ data.customer }}</h1>
        <p class="soft">Quote {{ data.number }}, two revisions side by side</p>
        <span class="chips">
          <select
            v-for="side in ['before', 'after'] as const"
            :key="side"
            class="input pick"
            :aria-label="side === 'before' ? 'Earlier revision' : 'Later revision'"
            :value="side === 'before' ? beforeId : id"
            @change="pick(side, $event)"
          >
            <option v-for="r in data.revisions" :key="r.id" :value="r.id">
              {{ r.letter }}{{ r.issued_at ? '' : ', draft' }}, {{ figure(r.payable) }}
            </option>
          </select>
          <RouterLink class="btn" :to="`/quotes/${id}`">Back to {{ data.after }}</RouterLink>
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
</style>
