<script setup lang="ts">
/** What was done and what is to do: a line to write on, then the newest first. */
import type { InputInstance } from 'element-plus'
import { nextTick, ref, useTemplateRef } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import { addDays, day, moment, todayIso } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import { t } from '@/words'

const props = defineProps<{
  activities: Shapes['ActivityOut'][]
  dealId?: number
  customerId?: number
  /** What belongs here, where nothing is noted yet. */
  hint: string
  /** Only one's own follow-ups are settled here. */
  own?: boolean
}>()
const emit = defineEmits<{ changed: [] }>()
const KINDS = ['note', 'call', 'visit', 'follow_up'] as const
type Kind = (typeof KINDS)[number]
const kinds = KINDS.map((value) => ({ value, label: t(`diary.kinds.${value}`) }))
const kind = ref<Kind>('note')
const text = ref('')
const due = ref<string | null>(addDays(todayIso(), me.value?.usual_follow_up_days ?? 0))
/** Whether something was just done, so that the next is asked for. */
const asked = ref(false)
const field = useTemplateRef<InputInstance>('field')
const { busy, run } = useAct()

const add = () =>
  run(async () => {
    if (!text.value.trim()) return
    await take(
      api.POST('/api/activities', {
        body: {
          kind: kind.value,
          text: text.value,
          deal_id: props.dealId ?? null,
          customer_id: props.customerId ?? null,
          due_on: kind.value === 'follow_up' ? due.value : null,
        },
      }),
    )
    text.value = ''
    emit('changed')
  })
const settles = (row: Shapes['ActivityOut']) =>
  row.kind === 'follow_up' && !row.done_at && (!props.own || row.who_id === me.value?.id)
const finish = (row: Shapes['ActivityOut'], done: boolean) =>
  run(async () => {
    const saved = await take(
      api.PATCH('/api/activities/{activity_id}', {
        params: { path: { activity_id: row.id } },
        body: { version: row.version, done },
      }),
    )
    emit('changed')
    asked.value = done
    if (!done) return
    say(t('diary.done'), () => void finish(saved, false))
    // What is done asks for what comes next.
    kind.value = 'follow_up'
    await nextTick()
    field.value?.focus()
  })
const move = (row: Shapes['ActivityOut'], day_on: string | null) =>
  run(async () => {
    if (!day_on || day_on === row.due_on) return
    const params = { path: { activity_id: row.id } }
    const body = { version: row.version, due_on: day_on }
    await take(api.PATCH('/api/activities/{activity_id}', { params, body }))
    emit('changed')
    say(t('diary.moved', { day: day(day_on) }))
  })
const others = (row: Shapes['ActivityOut']) => {
  const known = (me.value?.colleagues ?? []).map(({ id, name }) => ({ value: id, label: name }))
  const there = known.some(({ value }) => value === row.who_id)
  return there ? known : [{ value: row.who_id, label: row.who }, ...known]
}
const give = (row: Shapes['ActivityOut'], owner_id: number | null, back = false) =>
  run(async () => {
    if (owner_id === null || owner_id === row.who_id) return
    const params = { path: { activity_id: row.id } }
    const body = { version: row.version, owner_id }
    const saved = await take(api.PATCH('/api/activities/{activity_id}', { params, body }))
    emit('changed')
    if (back) say(t('diary.givenBack'))
    else say(t('diary.given', { name: saved.who }), () => void give(saved, row.who_id, true))
  })
</script>

<template>
  <section class="card">
    <header>
      <h2>{{ t('diary.title') }}</h2>
      <span class="soft">{{ t('diary.order') }}</span>
    </header>
    <ElForm class="add" @submit.prevent="add">
      <ElSegmented v-model="kind" :options="kinds" :aria-label="t('diary.kind')" size="small" />
      <DayField
        v-if="kind === 'follow_up'"
        v-model="due"
        class="due"
        :label="t('diary.dueOn')"
        bare
        small
        :from="todayIso()"
      />
      <div class="write">
        <ElInput
          ref="field"
          v-model="text"
          maxlength="1000"
          :aria-label="t(`diary.kinds.${kind}`)"
          :placeholder="
            asked && kind === 'follow_up'
              ? t('diary.next')
              : kind === 'follow_up'
                ? t('diary.toDo')
                : t('diary.said')
          "
        />
        <ElButton native-type="submit" :loading="busy" :disabled="!text.trim()">{{
          t('diary.add')
        }}</ElButton>
      </div>
    </ElForm>
    <EmptyState v-if="!activities.length" :title="t('diary.none')">{{ hint }}</EmptyState>
    <ol>
      <li v-for="row in activities" :key="row.id">
        <b>{{ t(`diary.kinds.${row.kind as Kind}`) }}</b>
        <span>{{ row.text }}</span>
        <small v-if="row.kind === 'follow_up' && row.done_at" class="soft">
          {{ t('diary.doneOn', { day: day(row.done_at) }) }}
        </small>
        <DayField
          v-else-if="settles(row)"
          :model-value="row.due_on"
          class="due open"
          :label="t('diary.dueOf', { what: row.text })"
          bare
          small
          @update:model-value="(now) => move(row, now)"
        />
        <small v-else class="soft"
          >{{ row.due_on ? day(row.due_on) : moment(row.created_at) }}, {{ row.who }}</small
        >
        <a
          v-if="settles(row)"
          class="soft ics"
          :href="`/api/activities/${row.id}/card`"
          :aria-label="t('diary.calendarOf', { what: row.text })"
          download
          >{{ t('diary.calendar') }}</a
        >
        <ElButton
          v-if="settles(row)"
          size="small"
          :aria-label="t('diary.finish', { what: row.text })"
          :disabled="busy"
          @click="finish(row, true)"
          >{{ t('diary.finishAct') }}</ElButton
        >
        <ChoiceField
          v-if="settles(row) && others(row).length > 1"
          class="whose"
          :model-value="row.who_id"
          :choices="others(row)"
          :label="t('diary.whose', { what: row.text })"
          bare
          small
          @update:model-value="(id) => give(row, id ?? null)"
        />
      </li>
    </ol>
  </section>
</template>

<style scoped>
.add {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-bottom: 8px;
}
.write {
  display: flex;
  gap: 8px;
  flex-basis: 100%;
}
.due {
  width: 130px;
}
li {
  display: grid;
  grid-template-columns: 72px 1fr auto auto auto;
  gap: 10px;
  align-items: baseline;
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}
small {
  font-size: 12px;
  white-space: nowrap;
}
.whose {
  grid-column: 2;
  width: 180px;
  margin: 0;
}
.open {
  color: var(--coral);
  font-weight: 600;
}
@media (max-width: 820px) {
  li {
    grid-template-columns: 72px 1fr;
  }
}
</style>
