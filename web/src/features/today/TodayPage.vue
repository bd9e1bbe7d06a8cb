<script setup lang="ts">
/** The day's stops and what needs care; three figures, each opening what it sums. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { useSerial } from '@/kit/act/useSerial'
import { day, figure } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { t, tn } from '@/words'
import { KINDS, stopsOf, title, when } from './stops'

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
        body: { version, done },
      }),
    ),
  done: (saved, { stop, done }) => {
    void client.invalidateQueries()
    if (!done) return
    const back = { stop: { ...stop, version: saved.version }, done: false }
    say(t('diary.done'), () => finish.mutate(back))
  },
})
</script>

<template>
  <div class="page">
    <header class="head">
      <h1>{{ t('app.places.today') }}</h1>
      <p class="soft">
        {{ data ? day(data.day) : '' }} · {{ me?.name }}{{ me?.leads ? `, ${me.team}` : '' }}
      </p>
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
            <li v-for="(stop, n) in group.stops" :key="`${stop.to} ${n}`" class="stop">
              <span class="dot" aria-hidden="true" />
              <RouterLink class="title" :to="stop.to">{{ title(stop) }}</RouterLink>
              <span class="who">{{ stop.customer }}</span>
              <span class="soft detail">{{ stop.detail }}</span>
              <span class="num">{{
                stop.amount ? `${figure(stop.amount)} ${stop.currency}` : ''
              }}</span>
              <span
                class="num when"
                :class="{
                  late: stop.days > 0 && !['stumbled', 'news', 'trouble'].includes(stop.kind),
                }"
                >{{ when(stop) }}</span
              >
              <ElButton
                v-if="stop.activity_id"
                size="small"
                :aria-label="t('diary.finish', { what: title(stop) })"
                @click="finish.mutate({ stop, done: true })"
                >{{ t('diary.finishAct') }}</ElButton
              >
              <RouterLink
                v-else
                class="btn small"
                :to="stop.to"
                :aria-label="t('today.openWhat', { what: title(stop) })"
                >{{ t('today.open') }}</RouterLink
              >
            </li>
          </template>
        </ol>
      </section>
    </template>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  gap: 14px;
  align-items: baseline;
  margin-bottom: 10px;
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
.stop {
  position: relative;
  display: grid;
  grid-template-columns:
    20px minmax(160px, 1.6fr) minmax(120px, 1fr) minmax(100px, 1.3fr)
    130px 90px 66px;
  gap: 12px;
  align-items: center;
  min-height: 34px;
  border-bottom: 1px solid var(--rule);
}
.dot {
  width: 9px;
  height: 9px;
  margin-left: 5.5px;
  border-radius: 50%;
  background: var(--ink);
}
.title {
  font-weight: 600;
}
.detail {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.btn.small {
  justify-content: center;
}
@media (max-width: 820px) {
  .stop {
    grid-template-columns: 20px 1fr auto;
    padding: 6px 0;
    gap: 2px 8px;
  }
  .stop .who,
  .stop .detail,
  .stop .num {
    grid-column: 2;
    text-align: left;
  }
  .stop :is(.btn, .el-button) {
    grid-column: 3;
    grid-row: 1 / span 2;
  }
}
</style>
