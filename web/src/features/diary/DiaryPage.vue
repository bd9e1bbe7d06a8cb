<script setup lang="ts">
/** The diary: what was done and is to do, by day and week; one's own, the team's. */
import { computed, defineAsyncComponent, nextTick, ref, shallowRef } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { me } from '@/api/session'
import { useAct } from '@/kit/act/useAct'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import FileButton from '@/kit/form/FileButton.vue'
import { addDays, day as asDay, todayIso, weekday, weekdayName } from '@/kit/format/format'
import { useKeys } from '@/kit/keys/useKeys'
import ExportLinks from '@/kit/list/ExportLinks.vue'
import FindField from '@/kit/list/FindField.vue'
import ListPages from '@/kit/list/ListPages.vue'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { useFilters } from '@/kit/list/useFilters'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import ActivityRow from '@/parts/diary/ActivityRow.vue'
import { useFollowUps } from '@/parts/diary/useFollowUps'
import { t, tn } from '@/words'
import AddEntry from './AddEntry.vue'
import { daysOf, isDone, type Row } from './days'
import DiaryEntry from './DiaryEntry.vue'
import { useDiary } from './useDiary'

const CalendarEvents = defineAsyncComponent(() => import('./CalendarEvents.vue'))
const { filters, values } = useFilters({
  whose: 'mine',
  owner: '',
  kind: '',
  customer: '',
  words: '',
  span: 'week',
  day: '',
  page: '1',
})
const { on, days, seen, found, again } = useDiary(values)
const { data, error, refetch, isPlaceholderData } = found
const shown = computed(() => daysOf(days.value.since, days.value.until, data.value?.rows ?? []))
const acts = useFollowUps(again)
const adding = ref(false)
/** The entry that is open. */
const open = ref<number | null>(null)
const opened = computed(() => data.value?.rows.find(({ id }) => id === open.value))
const week = computed(() => values.value.span === 'week')
const go = (to: string) => (filters.day.value = to === todayIso() ? '' : to)
const turn = (by: 1 | -1) => go(addDays(on.value, by * (week.value ? 7 : 1)))
const whose = computed({
  get: () => filters.owner.value || filters.whose.value,
  set: (now) => {
    const person = /^\d+$/.test(now)
    values.value = { ...values.value, whose: person ? 'all' : now, owner: person ? now : '', page: '1' } // prettier-ignore
  },
})
const people = computed(() => [
  { value: 'mine', label: t('diary.page.own') },
  { value: 'all', label: t(me.value?.leads ? 'diary.page.team' : 'diary.page.all') },
  ...(me.value?.people ?? []).map(({ id, name }) => ({ value: String(id), label: name })),
])
const kinds = [
  { value: '', label: t('list.all') },
  { value: 'open', label: t('diary.page.toDo') },
  { value: 'call', label: t('diary.page.calls') },
  { value: 'visit', label: t('diary.page.visits') },
  { value: 'note', label: t('diary.page.notes') },
]
const spans = (['week', 'day'] as const).map((value) => ({
  value,
  label: t(`diary.page.${value}`),
}))
/** The day on which it stands is shown. */
async function added(day: string): Promise<void> {
  adding.value = false
  if (day < days.value.since || day > days.value.until) go(day)
  await again()
}
const events = shallowRef<Shapes['EventOut'][] | null>(null)
const { busy: reading, run } = useAct()
const readFile = (file: File) =>
  run(async () => {
    const body = new FormData()
    body.append('file', file)
    events.value = await take(
      api.POST('/api/diary/calendar', { body: { file: '' }, bodySerializer: () => body }),
    )
  })
const late = (row: Row) => !isDone(row) && row.day < todayIso()
async function moveBy(row: Row, by: 1 | -1): Promise<void> {
  await acts.move(row, addDays(row.day, by))
  await nextTick()
  document.querySelector<HTMLElement>(`[data-entry="${row.id}"]`)?.focus()
}
const weekdayOf = (day: string) => weekdayName(weekday(day), week.value ? 'short' : 'long')
useKeys(() => ({
  title: t('diary.page.title'),
  keys: [
    { keys: '← →', does: t('diary.page.keys.move') },
    { keys: 'T', does: t('diary.page.keys.today'), act: () => go(todayIso()) },
    { keys: 'N', does: t('diary.page.keys.add'), act: () => (adding.value = true) },
  ],
}))
const print = () => window.print()
</script>

<template>
  <div class="page wide-sheet">
    <header class="top">
      <h1>{{ t('diary.page.title') }}</h1>
      <p class="soft">
        {{ week ? t('diary.page.weekOf', { day: asDay(days.since) }) : asDay(on) }}
        <template v-if="data">· {{ tn('diary.page.count', data.count) }}</template>
      </p>
      <span class="chips on-screen">
        <ElButton size="small" :aria-label="t('diary.page.before')" @click="turn(-1)">←</ElButton>
        <DayField
          bare
          small
          class="day"
          :model-value="on"
          :label="t('diary.page.on')"
          @update:model-value="(now) => now && go(now)"
        />
        <ElButton size="small" :aria-label="t('diary.page.after')" @click="turn(1)">→</ElButton>
        <ElButton size="small" @click="print">{{ t('board.print') }}</ElButton>
        <ExportLinks path="/api/diary" :values="seen" />
        <FileButton
          :label="t('diary.calendarFile.open')"
          accept=".ics"
          :disabled="reading"
          @file="readFile"
        />
        <RouterLink class="btn small" to="/visits">{{ t('today.visits.open') }}</RouterLink>
        <ElButton type="primary" :aria-expanded="adding" @click="adding = !adding">{{
          t('diary.page.add')
        }}</ElButton>
      </span>
    </header>
    <div class="filters on-screen">
      <ChoiceField
        class="pick"
        :model-value="whose"
        :choices="people"
        :label="t('diary.page.whose')"
        bare
        small
        @update:model-value="(now) => (whose = now ?? 'mine')"
      />
      <SegmentFilter v-model="filters.span.value" :choices="spans" :label="t('diary.page.span')" />
      <SegmentFilter v-model="filters.kind.value" :choices="kinds" :label="t('diary.page.kind')" />
      <FindField v-model="filters.words.value" :label="t('diary.page.find')" />
    </div>
    <AddEntry v-if="adding" class="on-screen" :on="on" @added="added" @close="adding = false" />
    <CalendarEvents
      v-if="events"
      class="on-screen"
      :events="events"
      @taken="(first) => ((events = null), added(first))"
      @close="events = null"
    />
    <LoadState v-if="!data" :error="error" :rows="8" @again="refetch()" />
    <template v-else>
      <section v-if="opened" class="card open on-screen">
        <header>
          <h2>
            <RouterLink v-if="opened.deal_id" :to="`/deals/${opened.deal_id}`">{{
              opened.deal
            }}</RouterLink>
            <template v-else>{{ opened.deal }}</template>
            <RouterLink v-if="opened.customer_id" :to="`/customers/${opened.customer_id}`">{{
              opened.customer
            }}</RouterLink>
            <template v-else>{{ opened.customer }}</template>
          </h2>
          <ElButton size="small" text @click="open = null">{{ t('kit.step.close') }}</ElButton>
        </header>
        <ol>
          <ActivityRow :row="opened" :acts="acts" :settles="opened.settles && !opened.done_at" />
        </ol>
      </section>
      <EmptyState v-if="!data.rows.length" :title="t('diary.page.none')">{{
        t('diary.page.noneHint')
      }}</EmptyState>
      <ol class="days" :class="{ week, stale: isPlaceholderData }">
        <li
          v-for="({ day, rows }, n) in shown"
          :key="day"
          :class="{ now: day === todayIso(), rest: week && n > 4, bare: !rows.length }"
        >
          <h2>
            <span class="ring" aria-hidden="true" />
            <span>{{ weekdayOf(day) }}</span> {{ asDay(day) }}
          </h2>
          <DiaryEntry
            v-for="row in rows"
            :key="row.id"
            :row="row"
            :chosen="row.id === open"
            :named="whose !== 'mine'"
            :late="late(row)"
            @open="open = open === row.id ? null : row.id"
            @move="(by) => moveBy(row, by)"
          />
        </li>
      </ol>
      <ListPages v-model="filters.page.value" :pages="data.pages" />
      <p class="soft hint on-screen">{{ t('diary.page.hint') }}</p>
    </template>
  </div>
</template>

<style scoped src="./diary.css" />
