<script setup lang="ts">
/** The day's stops and what needs care; three figures, each opening what it sums. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { useSerial } from '@/kit/act/useSerial'
import { day, figure } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { t, tn } from '@/words'
import { KINDS, stopsOf } from './stops'
import StopRow from './StopRow.vue'

const client = useQueryClient()
const POLL_MS = 15_000
const { data, error, refetch } = useQuery({
  queryKey: ['today'],
  queryFn: ({ signal }) => take(api.GET('/api/today', { signal })),
  refetchInterval: POLL_MS,
})
const stops = computed(() => stopsOf(data.value))
const groups = computed(() =>
  KINDS.map((kind) => ({ kind, stops: stops.value.filter((s) => s.kind === kind) })).filter(
    (group) => group.stops.length,
  ),
)
const figures = computed(() => {
  const d = data.value
  if (!d) return []
  return [
    { label: t('today.figures.pipeline'), figure: d.open_pipeline, words: 'today.deals' as const },
    { label: t('today.figures.weighted'), figure: d.weighted_this_month, words: 'today.deals' as const }, // prettier-ignore
    { label: t('today.figures.way'), figure: d.orders_under_way, words: 'today.orders' as const },
  ]
})

interface Done {
  stop: Shapes['DueStop']
  done: boolean
}
const finish = useSerial<Shapes['ActivityOut'], Done>({
  record: ({ stop }) => `activity:${stop.activity_id}`,
  now: ({ stop }) => ({ version: stop.version ?? 0 }) as Shapes['ActivityOut'],
  send: ({ stop, done }, version) =>
    take(
      api.PATCH('/api/activities/{activity_id}', {
        params: { path: { activity_id: stop.activity_id ?? 0 } },
        body: { version, done, back: false, word: '' },
      }),
    ),
  done: (saved, { stop, done }) => {
    void client.invalidateQueries()
    if (!done) return
    const back = { stop: { ...stop, version: saved.version }, done: false }
    say(t('diary.done'), () => finish.mutate(back))
  },
})
const { run } = useAct()
const see = (stop: Shapes['DueStop']) =>
  run(async () => {
    const params = { path: { told_id: stop.told_id ?? 0 } }
    await take(api.POST('/api/told/{told_id}/seen', { params }))
    await client.invalidateQueries({ queryKey: ['today'] })
  })
</script>

<template>
  <div class="page">
    <header class="head">
      <h1>{{ t('app.places.today') }}</h1>
      <p class="soft">
        {{ data ? day(data.day) : '' }} · {{ me?.name }}{{ me?.leads ? `, ${me.team}` : '' }}
      </p>
      <RouterLink v-if="me?.sells" class="btn small plan" to="/diary">{{
        t('diary.page.open')
      }}</RouterLink>
      <RouterLink v-if="me?.sells" class="btn small" to="/mail">{{ t('mail.title') }}</RouterLink>
      <RouterLink v-if="me?.sells" class="btn small" to="/visits">{{
        t('today.visits.open')
      }}</RouterLink>
    </header>
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <template v-else>
      <div v-if="me?.sells" class="figures">
        <RouterLink v-for="f in figures" :key="f.label" class="card figure" :to="f.figure.to">
          <span class="soft">{{ f.label }}</span>
          <b
            >{{ figure(f.figure.amount) }} <small>{{ data.currency }}</small></b
          >
          <span class="soft">{{ tn(f.words, f.figure.count) }}</span>
        </RouterLink>
      </div>
      <section class="card stops">
        <header>
          <h2>{{ t('today.stops') }}</h2>
          <span class="soft">{{ stops.length ? tn('today.count', stops.length) : '' }}</span>
        </header>
        <EmptyState v-if="!stops.length" :title="t('today.none')">
          {{ t('today.noneHint') }}
          <RouterLink to="/timetable">{{ t('today.ahead') }}</RouterLink>
        </EmptyState>
        <ol v-else class="line">
          <template v-for="group in groups" :key="group.kind">
            <li class="group" :class="group.kind">
              <span class="ring" aria-hidden="true" /><b>{{ t(`today.kinds.${group.kind}`) }}</b>
            </li>
            <StopRow
              v-for="(stop, n) in group.stops"
              :key="`${stop.to} ${n}`"
              :stop="stop"
              @finish="finish.mutate({ stop, done: true })"
              @seen="see(stop)"
            />
          </template>
        </ol>
      </section>
    </template>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: baseline;
  margin-bottom: 10px;
}
.plan {
  margin-left: auto;
}
.figures {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(200px, 1fr));
  gap: 18px;
  margin-bottom: 14px;
}
.figure {
  display: flex;
  flex-direction: column;
  text-decoration: none;
  padding: 10px 16px;
}
.figure:hover {
  background: var(--amber-soft);
}
.figure b {
  font-size: 26px;
  line-height: 1.25;
}
.figure small {
  font-size: 13px;
  font-weight: 500;
  color: var(--ink-2);
}
.line {
  position: relative;
}
.line::before {
  content: '';
  position: absolute;
  left: 8px;
  top: 14px;
  bottom: 14px;
  width: 4px;
  border-radius: 2px;
  background: var(--rule);
}
.group {
  display: flex;
  align-items: center;
  gap: 12px;
  height: 32px;
  position: relative;
}
.ring {
  width: 20px;
  height: 20px;
  border-radius: 50%;
  background: var(--sheet);
  border: 4px solid var(--coral);
}
.group.lapsing .ring {
  border-color: var(--amber);
}
.group.stumbled .ring,
.group.overdue_deal .ring {
  border-color: var(--red);
}
</style>
