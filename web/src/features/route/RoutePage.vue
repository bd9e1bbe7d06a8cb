<script setup lang="ts">
/** The whole chain of documents that one lies in: drawn, or as a tree; it moves by itself when news comes. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, useTemplateRef } from 'vue'
import { useRoute } from 'vue-router'
import { api, take } from '@/api/client'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { useFilters } from '@/kit/list/useFilters'
import LoadState from '@/kit/show/LoadState.vue'
import { useTitle } from '@/kit/show/title'
import { t, tn } from '@/words'
import RouteChart from './RouteChart.vue'
import RouteTree from './RouteTree.vue'
import { saveSvg } from './save'

const route = useRoute()
const POLL_MS = 5_000
const kind = route.params.kind as 'deal' | 'quote' | 'order'
const record_id = Number(route.params.id)
const { filters, values } = useFilters({ as: 'picture', size: 'fit' })
const unfolded = ref(false)
const { data, error, refetch } = useQuery({
  queryKey: computed(() => ['route', kind, record_id, unfolded.value]),
  queryFn: ({ signal }) =>
    take(
      api.GET('/api/route/{kind}/{record_id}', {
        params: { path: { kind, record_id }, query: { unfolded: unfolded.value } },
        signal,
      }),
    ),
  placeholderData: (before) => before,
  refetchInterval: POLL_MS,
})
useTitle(() => data.value && t('route.title', { title: data.value.title }))
const chart = useTemplateRef<InstanceType<typeof RouteChart>>('chart')
const views = [
  { value: 'picture', label: t('route.asPicture') },
  { value: 'tree', label: t('route.asTree') },
]
const sizes = [
  { value: 'fit', label: t('route.fit') },
  { value: 'full', label: t('route.full') },
]
function save(): void {
  if (chart.value?.svg && data.value) saveSvg(chart.value.svg, `route ${data.value.title}`)
}
</script>

<template>
  <div class="page">
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <template v-else>
      <header class="top">
        <h1>{{ data.title }}</h1>
        <span class="soft">{{ tn('route.stops', data.stops) }}</span>
        <ElButton v-if="data.folds" size="small" @click="unfolded = !unfolded">{{
          unfolded ? t('route.fold') : t('route.unfold')
        }}</ElButton>
        <SegmentFilter v-model="filters.as.value" :choices="views" :label="t('route.as')" />
        <template v-if="values.as === 'picture'">
          <SegmentFilter v-model="filters.size.value" :choices="sizes" :label="t('route.size')" />
          <ElButton size="small" @click="save">{{ t('route.save') }}</ElButton>
        </template>
      </header>
      <section class="card">
        <RouteChart
          v-if="values.as === 'picture'"
          ref="chart"
          :whole="data"
          :fit="values.size === 'fit'"
        />
        <RouteTree v-else :whole="data" />
      </section>
    </template>
  </div>
</template>

<style scoped>
.top {
  display: flex;
  gap: 8px 14px;
  align-items: center;
  flex-wrap: wrap;
  margin-bottom: 10px;
}
.top .soft {
  margin-right: auto;
}
</style>
