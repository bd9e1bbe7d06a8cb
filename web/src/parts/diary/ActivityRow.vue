<script setup lang="ts">
/** An activity: what, whose, who asked, what they were told; a follow-up is settled here. */
import { defineAsyncComponent, ref } from 'vue'
import { me } from '@/api/session'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import { day, moment } from '@/kit/format/format'
import { maybe, t } from '@/words'
import { placeOf } from './activity'
import { isAsked, whoseChoices, type Activity, type useFollowUps } from './useFollowUps'
import WordForm from './WordForm.vue'

const FilesList = defineAsyncComponent(() => import('@/parts/files/FilesList.vue'))
const MailPanel = defineAsyncComponent(() => import('@/parts/mail/MailPanel.vue'))
const props = defineProps<{
  row: Activity
  acts: ReturnType<typeof useFollowUps>
  /** Whether this person settles it. */
  settles: boolean
  /** Whether it stands at the document where it was noted. */
  here?: boolean
}>()
/** Whether a word to who asked is being written. */
const writing = ref(false)
const inviting = ref(false)
/** Whether its files are open: more are added there, and taken away. */
const filing = ref(false)
const kind = (row: Activity) =>
  row.kind === 'follow_up' && row.visit ? t('diary.plannedVisit') : maybe(`diary.kinds.${row.kind}`)
function toggleFiles(): void {
  filing.value = !filing.value
  if (!filing.value) void props.acts.again()
}
/** When it was noted; a call of another day on that day. */
const when = (row: Activity) =>
  day(row.day) === day(row.created_at) && !row.due_on ? moment(row.created_at) : day(row.day)
const word = ({ what, who, word }: Activity['told'][number]) =>
  `${maybe(`diary.told.${what}`, { who }) ?? who}${word ? `: “${word}”` : ''}`
</script>

<template>
  <li>
    <b>{{ kind(row) }}</b>
    <span class="what">
      {{ row.text }}
      <small v-if="row.person || placeOf(row)" class="soft more">{{
        [row.person, placeOf(row)].filter(Boolean).join(' · ')
      }}</small>
      <small v-for="each in row.invited" :key="each.name" class="soft more">{{
        t(`diary.invited.${(each.says || 'waits') as 'waits'}`, { who: each.name })
      }}</small>
      <small v-if="row.asked_by" class="soft more">{{
        t('diary.askedBy', { who: row.who, by: row.asked_by })
      }}</small>
      <small v-if="row.document && !here" class="soft more">
        <RouterLink v-if="row.to" :to="row.to">{{ row.document }}</RouterLink>
        <template v-else>{{ row.document }}</template>
      </small>
      <small v-if="row.files.length && !filing" class="more files">
        <a
          v-for="file in row.files"
          :key="file.id"
          :href="`/api/kept-files/${file.id}`"
          target="_blank"
          >{{ file.name }}</a
        >
      </small>
      <small v-for="each in row.told" :key="each.at" class="soft more">{{ word(each) }}</small>
    </span>
    <small v-if="row.kind === 'follow_up' && row.done_at" class="soft">
      {{ t('diary.doneOn', { day: day(row.done_at) }) }}
    </small>
    <DayField
      v-else-if="settles"
      :model-value="row.due_on"
      class="due open"
      :label="t('diary.dueOf', { what: row.text })"
      bare
      small
      @update:model-value="(now) => acts.move(row, now)"
    />
    <small v-else class="soft">{{ when(row) }}, {{ row.who }}</small>
    <span class="acts" :class="{ own: settles }">
      <template v-if="settles">
        <ChoiceField
          v-if="whoseChoices(row).length > 1"
          class="whose"
          :model-value="row.who_id"
          :choices="whoseChoices(row)"
          :label="t('diary.whose', { what: row.text })"
          bare
          small
          @update:model-value="(id) => acts.give(row, id ?? null)"
        />
        <ElTimeSelect
          v-if="row.visit"
          class="time"
          size="small"
          start="06:00"
          end="21:00"
          step="00:15"
          :model-value="row.starts"
          :clearable="false"
          :aria-label="t('diary.timeOf', { what: row.text })"
          :placeholder="t('diary.at')"
          @update:model-value="(now) => acts.setTime(row, now)"
        />
        <a
          class="soft ics"
          :href="`/api/activities/${row.id}/card`"
          :aria-label="t('diary.calendarOf', { what: row.text })"
          download
          >{{ t('diary.calendar') }}</a
        >
        <ElButton
          v-if="row.visit && row.who_id === me?.id"
          size="small"
          :aria-label="t('diary.inviteTo', { what: row.text })"
          :aria-expanded="inviting"
          @click="inviting = !inviting"
          >{{ t('diary.invite') }}</ElButton
        >
        <ElButton
          v-if="isAsked(row)"
          size="small"
          :aria-label="t('diary.answerOf', { what: row.text })"
          :aria-expanded="writing"
          @click="writing = !writing"
          >{{ t('diary.answer') }}</ElButton
        >
        <ElButton
          v-else
          size="small"
          :aria-label="t('diary.finish', { what: row.text })"
          :disabled="acts.busy.value"
          @click="acts.finish(row, true)"
          >{{ t('diary.finishAct') }}</ElButton
        >
      </template>
      <ElButton
        size="small"
        text
        :aria-label="t('diary.attachTo', { what: row.text })"
        :aria-expanded="filing"
        @click="toggleFiles"
        >{{ t('diary.attach') }}</ElButton
      >
    </span>
    <FilesList v-if="filing" class="below" kind="activity" :record="row.id" may among />
    <template v-if="settles">
      <WordForm
        v-if="writing && isAsked(row)"
        class="below"
        :name="row.asked_by"
        :busy="acts.busy.value"
        :due="row.due_on"
        @move="(day, word) => acts.move(row, day, { word })"
        @done="(word) => acts.finish(row, true, word)"
        @back="(word) => acts.handBack(row, word)"
        @close="writing = false"
      />
      <MailPanel
        v-if="inviting"
        class="below"
        kind="visit"
        :record="row.id"
        :title="t('diary.inviteTo', { what: row.text })"
        @sent="acts.again()"
        @close="inviting = false"
      />
    </template>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 72px 1fr auto auto;
  gap: 4px 10px;
  align-items: baseline;
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}
small {
  font-size: 12px;
}
small:not(.more) {
  white-space: nowrap;
}
.more {
  display: block;
}
.what {
  min-width: 0;
  overflow-wrap: anywhere;
}
.files {
  display: flex;
  flex-wrap: wrap;
  gap: 0 12px;
}
.due {
  width: 130px;
  margin: 0;
}
.whose {
  width: 132px;
  margin: 0;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
}
/* What is to do is settled below its words. */
.acts.own {
  grid-column: 2 / -1;
}
.acts.own ~ * {
  grid-column: 2 / -1;
}
.acts .el-button {
  margin: 0;
}
.time {
  width: 88px;
}
.below {
  grid-column: 2 / -1;
}
.open {
  color: var(--coral);
  font-weight: 600;
}
/* Beside other cards it is narrow on a wide screen as well. */
@container (max-width: 460px) {
  li {
    grid-template-columns: 72px 1fr;
  }
  li > :not(b) {
    grid-column: 2;
  }
}
</style>
