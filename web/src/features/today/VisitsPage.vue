<script setup lang="ts">
/** A day's visits in the order in which they are made: where to go, whom to ask for, what for; printable. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import DayField from '@/kit/form/DayField.vue'
import { addDays, day as asDay, todayIso } from '@/kit/format/format'
import { useFilters } from '@/kit/list/useFilters'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import CustomerPick from '@/parts/customer/CustomerPick.vue'
import { t } from '@/words'
import VisitRow from './VisitRow.vue'
import { movedTo } from './visits'

type Visits = Shapes['VisitsOut']
type Visit = Shapes['PlannedVisit']
const client = useQueryClient()
const { filters } = useFilters({ day: '' })
const on = computed({
  get: () => filters.day.value || todayIso(),
  set: (now) => (filters.day.value = now === todayIso() ? '' : now),
})
const key = computed(() => ['visits', on.value])
const { data, error, refetch } = useQuery({
  queryKey: key,
  queryFn: ({ signal }) =>
    take(api.GET('/api/visits', { params: { query: { day: on.value } }, signal })),
})
const customer = ref<number | null>(null)
const text = ref('')
const { busy, run } = useAct(() => void refetch())
function show(found: Visits): void {
  client.setQueryData(['visits', found.day], found)
  void client.invalidateQueries({ queryKey: ['today'] })
}
const plan = () =>
  run(async () => {
    if (customer.value === null || !text.value.trim()) return
    const body = { day: on.value, text: text.value, customer_id: customer.value }
    show(await take(api.POST('/api/visits', { body })))
    say(t('today.visits.planned'))
    customer.value = null
    text.value = ''
  })
const move = (visit: Visit, by: 1 | -1) =>
  run(async () => {
    const known = (data.value?.rows ?? []).map(({ id }) => id)
    const ids = movedTo(known, visit.id, by)
    if (!ids) return
    show(await take(api.PUT('/api/visits', { body: { day: on.value, ids } })))
    await nextTick()
    document.querySelector<HTMLElement>(`[data-visit="${visit.id}"]`)?.focus()
  })
const finish = (visit: Visit, done: boolean) =>
  run(async () => {
    const params = { path: { activity_id: visit.id } }
    const body = { version: visit.version, done, back: false, word: '' }
    const saved = await take(api.PATCH('/api/activities/{activity_id}', { params, body }))
    await client.invalidateQueries({ queryKey: key.value })
    void client.invalidateQueries({ queryKey: ['today'] })
    if (done) say(t('diary.done'), () => void finish({ ...visit, version: saved.version }, false))
  })
const print = () => window.print()
</script>

<template>
  <div class="page">
    <header class="top">
      <h1>{{ t('today.visits.title') }}</h1>
      <p class="soft">{{ asDay(on) }} · {{ t('today.visits.hint') }}</p>
      <span class="chips on-screen">
        <ElButton size="small" :aria-label="t('today.visits.before')" @click="on = addDays(on, -1)"
          >←</ElButton
        >
        <DayField
          bare
          small
          class="day"
          :model-value="on"
          :label="t('today.visits.day')"
          @update:model-value="(now) => now && (on = now)"
        />
        <ElButton size="small" :aria-label="t('today.visits.after')" @click="on = addDays(on, 1)"
          >→</ElButton
        >
        <ElButton size="small" @click="print">{{ t('today.visits.print') }}</ElButton>
      </span>
    </header>
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <section v-else class="card">
      <EmptyState v-if="!data.rows.length" :title="t('today.visits.none')">{{
        t('today.visits.noneHint')
      }}</EmptyState>
      <ol v-else class="line">
        <VisitRow
          v-for="(visit, n) in data.rows"
          :key="visit.id"
          :visit="visit"
          :first="n === 0"
          :last="n === data.rows.length - 1"
          :busy="busy"
          @move="(by) => move(visit, by)"
          @finish="finish(visit, true)"
        />
      </ol>
      <ElForm class="plan on-screen" label-position="top" @submit.prevent="plan">
        <CustomerPick v-model="customer" class="who" />
        <ElFormItem :label="t('today.visits.what')" class="text">
          <ElInput v-model="text" maxlength="1000" :aria-label="t('today.visits.what')" />
        </ElFormItem>
        <ElButton
          type="primary"
          native-type="submit"
          :loading="busy"
          :disabled="customer === null || !text.trim()"
          >{{ t('today.visits.plan') }}</ElButton
        >
      </ElForm>
    </section>
  </div>
</template>

<style scoped>
.page {
  --bar-height: 0px;
}
.top {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: baseline;
  margin-bottom: 10px;
}
.top p {
  flex: 1;
}
.day {
  width: 130px;
  margin: 0;
}
.line {
  margin: 0;
  padding: 0;
  list-style: none;
}
.plan {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: flex-end;
  margin-top: 12px;
  padding-top: 10px;
  border-top: 1px solid var(--rule);
}
.who {
  width: 260px;
}
.text {
  flex: 1;
  min-width: 200px;
}
</style>
