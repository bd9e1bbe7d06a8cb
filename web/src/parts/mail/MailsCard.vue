<script setup lang="ts">
/** The mails about a record: how far each came, what came back; another one is written here. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, ref, shallowRef, useTemplateRef } from 'vue'
import { api, take } from '@/api/client'
import { useAct } from '@/kit/act/useAct'
import { moment } from '@/kit/format/format'
import FindField from '@/kit/list/FindField.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'
import ArrivedMail from './ArrivedMail.vue'
import {
  conversation,
  holds,
  useArrived,
  useMails,
  type Arrived,
  type Mail,
  type MailKind,
} from './mails'
import { useWantedMail } from './useWantedMail'

/** Loaded when somebody writes: a page is read more often than answered by mail. */
const MailPanel = defineAsyncComponent(() => import('./MailPanel.vue'))
const props = defineProps<{
  kind: MailKind
  record: number
  may: boolean
  name: string
  /** Whether one is written at once. */
  start?: boolean
}>()
const client = useQueryClient()
const { wanted, leadIn } = useWantedMail()
const { data, error, refetch } = useMails(
  props.kind,
  () => props.record,
  () => wanted.value.sent,
)
const came = useArrived(
  props.kind,
  () => props.record,
  () => wanted.value.came,
)
const letters = computed(() => conversation(data.value ?? [], came.data.value ?? []))
/** Of many mails, those that hold what is looked for. */
const MANY = 5
const words = ref('')
const found = computed(() => letters.value.filter((letter) => holds(letter, words.value)))
const writing = ref(props.start)
/** The mail that is being answered. */
const answering = shallowRef<Arrived | null>(null)
function answer(mail: Arrived): void {
  writing.value = false
  answering.value = mail
}
function write(): void {
  answering.value = null
  writing.value = !writing.value
}
const card = useTemplateRef<HTMLElement>('card')
leadIn(card, () => data.value !== undefined && came.data.value !== undefined)
const heading = computed(() => {
  const { kind, name } = props
  if (kind === 'deal' || kind === 'customer') return t('mail.free', { customer: name })
  return t(`mail.${kind}`, { number: name })
})
const again = () => client.invalidateQueries({ queryKey: ['mails'] })
const { busy, run } = useAct(() => void again())
const decide = (mail: Mail, what: 'sent' | 'again' | 'go') =>
  run(async () => {
    const params = { path: { mail_id: mail.id } }
    await take(
      api.POST('/api/mails/{mail_id}/decide', { params, body: { version: mail.version, what } }),
    )
    await again()
  })
const setWaits = (mail: Arrived, waits: boolean) =>
  run(async () => {
    const params = { path: { mail_id: mail.id } }
    const body = { version: mail.version, waits }
    await take(api.POST('/api/arrived-mails/{mail_id}/waits', { params, body }))
    void client.invalidateQueries({ queryKey: ['today'] })
    await again()
  })
type State = 'waiting' | 'under_way' | 'sent' | 'unknown' | 'refused' | 'let_go' | 'bounced'
const STUCK = { unknown: 'mail.unknown', refused: 'mail.refused', bounced: 'mail.bounced' } as const
type Stuck = keyof typeof STUCK
const stuck = ({ state }: Mail) => state in STUCK
</script>

<template>
  <section id="mail" ref="card" class="card mails" :aria-label="t('mail.title')">
    <header>
      <h2>{{ t('mail.title') }}</h2>
      <span v-if="data && !letters.length" class="soft">{{ t('mail.none') }}</span>
      <FindField v-if="letters.length > MANY" v-model="words" :label="t('mail.find')" />
      <ElButton v-if="may" size="small" :aria-expanded="writing" @click="write">{{
        t('mail.open')
      }}</ElButton>
    </header>
    <LoadState v-if="!data" :error="error" :rows="2" @again="refetch()" />
    <p v-if="words && !found.length" class="soft">{{ t('mail.notFound') }}</p>
    <LoadState
      v-if="came.error.value"
      :error="came.error.value"
      :rows="1"
      @again="came.refetch()"
    />
    <template v-for="{ key, mail, arrived } in found" :key="key">
      <ArrivedMail
        v-if="arrived"
        :id="`mail-${key}`"
        :mail="arrived"
        :may="may"
        :busy="busy"
        :open="key === wanted.key || (wanted.all && arrived.waits)"
        @answer="answer(arrived)"
        @waits="(now) => setWaits(arrived, now)"
      />
      <details v-else :id="`mail-${key}`" :class="mail.state" :open="key === wanted.key">
        <summary>
          <b>{{ t(`states.mail.${mail.state as State}`) }}</b>
          <span>{{ mail.subject }}</span>
          <span class="soft">{{ mail.to.join(', ') }}</span>
          <small class="soft">{{
            [
              moment(mail.sent_at ?? mail.created_at),
              mail.who,
              mail.elsewhere ? t('mail.elsewhere') : '',
            ]
              .filter(Boolean)
              .join(', ')
          }}</small>
        </summary>
        <p v-if="mail.copies.length" class="soft">
          {{ t('mail.copiesTo', { who: mail.copies.join(', ') }) }}
        </p>
        <pre>{{ mail.body }}</pre>
        <p v-if="mail.files.length" class="files">
          <a
            v-for="file in mail.files"
            :key="file.id"
            :href="`/api/mail-files/${file.id}`"
            download
            >{{ file.name }}</a
          >
        </p>
        <p v-if="mail.said" class="soft">{{ t('mail.said', { words: mail.said }) }}</p>
        <p v-if="mail.settled_by" class="soft">
          {{ t('mail.settledBy', { who: mail.settled_by }) }}
        </p>
      </details>
    </template>
    <div
      v-for="mail in (data ?? []).filter(stuck)"
      :key="`act-${mail.id}`"
      class="stuck"
      role="status"
    >
      <span>{{ t(STUCK[mail.state as Stuck], { subject: mail.subject }) }}</span>
      <span v-if="mail.said" class="soft">{{ mail.said }}</span>
      <template v-if="may">
        <ElButton
          v-if="mail.state === 'unknown'"
          size="small"
          :disabled="busy"
          @click="decide(mail, 'sent')"
          >{{ t('mail.wentOut') }}</ElButton
        >
        <ElButton size="small" :disabled="busy" @click="decide(mail, 'again')">{{
          t('mail.again')
        }}</ElButton>
        <ElButton size="small" text :disabled="busy" @click="decide(mail, 'go')">{{
          t('mail.letGo')
        }}</ElButton>
      </template>
    </div>
    <MailPanel
      v-if="writing"
      :kind="kind"
      :record="record"
      :title="heading"
      @close="writing = false"
    />
    <MailPanel
      v-if="answering"
      :key="answering.id"
      :kind="answering.kind"
      :record="answering.record"
      :answers="answering.id"
      :title="t('mail.answerTo', { who: answering.sender })"
      @close="answering = null"
    />
  </section>
</template>

<style scoped>
.mails {
  margin: 10px 0;
}
header .el-button {
  margin-left: auto;
}
summary {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  align-items: baseline;
  min-height: 28px;
  cursor: pointer;
}
pre {
  margin: 6px 0;
  padding-left: 14px;
  border-left: 4px solid var(--rule);
  font: inherit;
  white-space: pre-wrap;
}
.files {
  display: flex;
  gap: 12px;
}
.stuck {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
  margin-top: 6px;
  padding: 4px 10px;
  background: var(--amber-soft);
}
</style>
