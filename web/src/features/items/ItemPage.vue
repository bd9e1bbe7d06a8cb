<script setup lang="ts">
/**
 * An item's promises by departure: what is on hand and what comes, who rides on it, what is free; as a
 * picture or as a table, a depot at a time.
 */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, take } from '@/api/client'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { figure, day as dayOf } from '@/kit/format/format'
import { useKeys } from '@/kit/keys/useKeys'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { useFilters } from '@/kit/list/useFilters'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import SumBar from '@/kit/show/SumBar.vue'
import { useTitle } from '@/kit/show/title'
import { ageOf } from '@/parts/promise/words'
import { t } from '@/words'
import DepartureLine from './DepartureLine.vue'
import DepartureTable from './DepartureTable.vue'
import ItemPrice from './ItemPrice.vue'
import ItemWords from './ItemWords.vue'
import MovePromise from './MovePromise.vue'
import { movable } from './useMove'

const route = useRoute()
const id = Number(route.params.id)
const { filters } = useFilters({ depot: '', as: 'picture', customer: '', quantity: '1' })
const { data, error, refetch } = useQuery({
  queryKey: ['item-promise', id],
  queryFn: ({ signal }) =>
    take(api.GET('/api/items/{item_id}/promise', { params: { path: { item_id: id } }, signal })),
  refetchInterval: 60_000,
})
useTitle(() => data.value && t('promise.page.title', { item: data.value.item.code }))
const plan = computed(
  () =>
    data.value?.plans.find((each) => String(each.depot_id) === filters.depot.value) ??
    data.value?.plans[0],
)
/** What it is, in a line: its kind, what it is sold in, the least of it. */
const facts = computed(() => {
  if (!data.value) return ''
  const { item, unit } = data.value
  const sold = item.units.map(({ name, factor }) =>
    factor === '1'
      ? name
      : t('promise.page.holds', { unit: name, factor: figure(factor), base: unit }),
  )
  return [
    t(`promise.page.kinds.${item.kind as 'goods' | 'service' | 'made'}`),
    t('promise.page.soldIn', { units: sold.join(', ') }),
    item.minimum_quantity &&
      t('promise.page.least', { quantity: `${figure(item.minimum_quantity)} ${unit}` }),
    item.pack_multiple &&
      t('promise.page.lots', { quantity: `${figure(item.pack_multiple)} ${unit}` }),
  ]
    .filter(Boolean)
    .join(' · ')
})
const moving = ref(false)
const mayMove = computed(() => !!plan.value && movable(plan.value).length > 1)
function moved(byBackOffice: boolean): void {
  moving.value = false
  say(t(byBackOffice ? 'promise.move.doneThere' : 'promise.move.done'))
}
const depot = computed({
  get: () => String(plan.value?.depot_id ?? ''),
  set: (now) => (filters.depot.value = now),
})
const depots = computed(() =>
  (data.value?.plans ?? []).map((each) => ({ value: String(each.depot_id), label: each.depot })),
)
const shapes = [
  { value: 'picture', label: t('promise.page.picture') },
  { value: 'table', label: t('promise.page.table') },
]
const sums = computed(() => {
  const now = plan.value
  const last = now?.departures.at(-1)
  if (!now || !last) return []
  return [
    { label: t('promise.page.sums.onHand'), value: figure(now.on_hand) },
    { label: t('promise.page.sums.promised'), value: figure(now.promised) },
    { label: t('promise.page.sums.coming'), value: figure(now.coming) },
    {
      label: t('promise.page.sums.free', { day: dayOf(last.on) }),
      value: figure(last.by_then),
      main: true,
    },
  ]
})
useKeys(() => ({
  title: t('promise.column'),
  keys: [
    {
      keys: 'T',
      does: t('promise.page.table'),
      act: () => (filters.as.value = filters.as.value === 'table' ? 'picture' : 'table'),
    },
    {
      keys: 'M',
      does: t('promise.move.open'),
      act: () => (moving.value = mayMove.value),
    },
  ],
}))
</script>

<template>
  <div class="page with-bar">
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <template v-else>
      <header class="top">
        <h1>{{ data.item.name }}</h1>
        <p class="soft">
          {{ data.item.code }} · {{ data.item.group }}
          <template v-if="plan">
            ·
            {{ t('promise.page.head', { age: ageOf(plan.minutes) }) }}</template
          >
        </p>
        <span v-if="plan" class="shown">
          <SegmentFilter v-model="depot" :choices="depots" :label="t('promise.depot')" />
          <SegmentFilter
            v-model="filters.as.value"
            :choices="shapes"
            :label="t('promise.column')"
          />
        </span>
      </header>
      <p class="soft facts">{{ facts }}</p>
      <EmptyState v-if="!plan" class="card" :title="t('promise.page.noPlan')">{{
        t('promise.page.noPlanHint')
      }}</EmptyState>
      <template v-else>
        <p v-for="late in plan.overdue" :key="late.number" class="card overdue" role="status">
          {{
            t('promise.page.overdue', {
              number: late.number,
              quantity: figure(late.quantity),
              day: dayOf(late.on),
            })
          }}
        </p>
        <DepartureTable v-if="filters.as.value === 'table'" :plan="plan" :unit="data.unit" />
        <DepartureLine v-else :plan="plan" :unit="data.unit" />
        <section v-if="data.substitutes.length" class="card instead">
          <h2>{{ t('promise.page.substitutes') }}</h2>
          <p v-for="other in data.substitutes" :key="other.id" class="other">
            <RouterLink :to="`/items/${other.id}`">{{ other.name }}</RouterLink>
            <span class="soft"> {{ other.code }}</span>
          </p>
        </section>
        <MovePromise
          v-if="moving"
          :item="id"
          :plan="plan"
          :unit="data.unit"
          @close="moving = false"
          @done="moved"
        />
        <SumBar :sums="sums"
          ><span v-if="plan.minimum" class="hint">{{
            t('promise.page.minimum', { minimum: figure(plan.minimum) })
          }}</span>
          <ElButton v-if="mayMove" text @click="moving = !moving">{{
            t('promise.move.open')
          }}</ElButton></SumBar
        >
      </template>
      <ItemPrice
        v-if="me?.sells"
        v-model:customer="filters.customer.value"
        v-model:quantity="filters.quantity.value"
        :item="id"
        :unit="data.unit"
      />
      <ItemWords :item="id" />
    </template>
  </div>
</template>

<style scoped>
.top {
  display: flex;
  align-items: baseline;
  gap: 4px 12px;
  flex-wrap: wrap;
}
.facts {
  margin: 2px 0 10px;
}
.shown {
  margin-left: auto;
  display: flex;
  gap: 8px;
}
.overdue {
  border-left: 5px solid var(--amber);
  margin-bottom: 10px;
  padding: 8px 14px;
}
.instead {
  margin-top: 14px;
}
.other {
  display: flex;
  gap: 8px;
}
.hint {
  color: var(--on-bar-2);
}
</style>
