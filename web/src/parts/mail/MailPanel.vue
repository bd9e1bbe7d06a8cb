<script setup lang="ts">
/** A mail about a record: opened in place, with its words and papers; looked through, then sent. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { api, take } from '@/api/client'
import type { Fault } from '@/api/fault'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { useKeptForm } from '@/kit/draft/useKeptForm'
import { day as dayOf } from '@/kit/format/format'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import LoadState from '@/kit/show/LoadState.vue'
import StepPanel from '@/kit/step/StepPanel.vue'
import { t } from '@/words'
import MailFollow from './MailFollow.vue'
import { blank, mailsKey, openIn, peopleIn, type MailKind, type MailTo, type Typed } from './mails'

const props = defineProps<{ kind: MailKind; record: number; title: string; reminds?: boolean }>()
const emit = defineEmits<{ close: []; sent: [] }>()
const client = useQueryClient()
const ANOTHER = -1
const name = `mail-${props.kind}-${props.record}${props.reminds ? '-reminder' : ''}`
const { form, clear } = useKeptForm<Typed>(me.value?.id ?? 0, name, 1, blank)
const contactAsked = computed(() => (form.value.contact === ANOTHER ? null : form.value.contact))
const { data, error, refetch } = useQuery({
  queryKey: computed(() => [
    'mail-draft',
    props.kind,
    props.record,
    contactAsked.value,
    props.reminds,
  ]),
  queryFn: ({ signal }) => {
    const { kind, record } = props
    const words = props.reminds ? ('reminder' as const) : undefined
    const query = { kind, record, contact: contactAsked.value ?? undefined, words }
    return take(api.GET('/api/mail-draft', { params: { query }, signal }))
  },
  placeholderData: (before) => before,
})
const people = computed(() => [
  ...(data.value?.to ?? []).map((each) => ({
    value: each.contact_id ?? 0,
    label: `${each.name} <${each.address}>`,
    detail: each.role,
  })),
  { value: ANOTHER, label: t('mail.another') },
])
const contact = computed({
  get: () => form.value.contact ?? data.value?.chosen ?? ANOTHER,
  set: (now) => (form.value.contact = now),
})
const subject = computed({
  get: () => form.value.subject ?? data.value?.subject ?? '',
  set: (now) => (form.value.subject = now),
})
const body = computed({
  get: () => form.value.body ?? data.value?.body ?? '',
  set: (now) => (form.value.body = now),
})
const papers = computed({
  get: () =>
    form.value.papers ??
    (data.value?.papers ?? []).filter(({ usual }) => usual).map(({ key }) => key),
  set: (now) => (form.value.papers = now),
})
const followOn = computed({
  get: () => form.value.followOn ?? data.value?.follow_up_on ?? null,
  set: (now) => (form.value.followOn = now),
})
const follow = computed({
  get: () => form.value.follow ?? !data.value?.planned_on,
  set: (now) => (form.value.follow = now),
})
const missing = computed(() => openIn(`${subject.value}\n${body.value}`))
const looking = ref(false)
const fault = shallowRef<Fault | null>(null)
const wrong = ref('')
const FIELDS = ['to', 'copies', 'subject', 'body', 'papers']
const fieldOf = (path: string) => FIELDS.find((each) => path.startsWith(each)) ?? ''
const { busy, run } = useAct((refused) => {
  fault.value = refused
  return fieldOf(refused.path) !== ''
})
const faultAt = (path: string) =>
  fault.value && fieldOf(fault.value.path) === path ? fault.value.message : ''
function recipients(): MailTo[] {
  if (contact.value === ANOTHER) return peopleIn(form.value.address).people
  const found = data.value?.to.find((each) => each.contact_id === contact.value)
  return found ? [{ name: found.name, address: found.address }] : []
}
/** Why it cannot be sent yet; nothing where it can. */
function hindrance(): string {
  for (const text of [contact.value === ANOTHER ? form.value.address : '', form.value.copies]) {
    const bad = peopleIn(text).wrong
    if (bad) return t('mail.noAddress', { text: bad })
  }
  if (!recipients().length) return t('mail.toNobody')
  return missing.value.length ? t('mail.stillOpen', { fields: named(missing.value) }) : ''
}
const whole = useTemplateRef<HTMLElement>('whole')
/** A mail goes out by its button or by Ctrl Enter, never by an Enter on the way. */
function hold(event: KeyboardEvent): void {
  if (event.ctrlKey) void send()
  if (event.ctrlKey || event.target instanceof HTMLInputElement) event.preventDefault()
}
watch(
  () => data.value !== undefined,
  (there) =>
    there &&
    void nextTick(() => whole.value?.querySelector<HTMLElement>('[name=subject]')?.focus()),
  { immediate: true },
)
const named = (fields: string[]) =>
  fields.map((each) => t(`mail.fields.${each as 'contact'}`)).join(', ')
const send = () =>
  run(async () => {
    fault.value = null
    wrong.value = hindrance()
    if (wrong.value) return
    const asked = data.value?.follow_up_on && follow.value && followOn.value
    await take(
      api.POST('/api/mails', {
        body: {
          kind: props.kind,
          record: props.record,
          to: recipients(),
          copies: peopleIn(form.value.copies).people,
          copy_to_self: form.value.self,
          contact_id: contact.value === ANOTHER ? null : contact.value,
          subject: subject.value,
          body: body.value,
          papers: papers.value,
          follow_up: asked
            ? { text: data.value?.follow_up ?? '', due_on: asked, owner_id: form.value.followBy }
            : null,
        },
      }),
    )
    clear()
    void client.invalidateQueries({ queryKey: mailsKey(props.kind, props.record) })
    if (asked) void client.invalidateQueries({ queryKey: ['today'] })
    say(t('mail.written'))
    emit('sent')
    emit('close')
  })
</script>

<template>
  <StepPanel :title="title" @close="emit('close')" @go="send">
    <LoadState v-if="!data" :error="error" :rows="6" @again="refetch()" />
    <div v-else ref="whole" class="mail" @keydown.enter="hold">
      <div class="fields">
        <ChoiceField
          v-model="contact"
          :choices="people"
          :label="t('mail.to')"
          :error="faultAt('to')"
        />
        <ElFormItem v-if="contact === ANOTHER" :label="t('mail.address')">
          <ElInput v-model="form.address" name="address" maxlength="400" inputmode="email" />
        </ElFormItem>
        <ElFormItem :label="t('mail.copies')" :error="faultAt('copies')">
          <ElInput v-model="form.copies" name="copies" maxlength="1000" inputmode="email" />
        </ElFormItem>
        <ElCheckbox v-model="form.self">{{
          t('mail.self', { address: data.own_address })
        }}</ElCheckbox>
        <ElCheckboxGroup v-if="data.papers.length" v-model="papers" :aria-label="t('mail.papers')">
          <ElCheckbox v-for="paper in data.papers" :key="paper.key" :value="paper.key">{{
            paper.name
          }}</ElCheckbox>
        </ElCheckboxGroup>
        <MailFollow
          v-if="data.follow_up_on"
          v-model:on="follow"
          v-model:day="followOn"
          v-model:who="form.followBy"
        />
        <p v-if="data.planned_on" class="soft">
          {{ t('mail.planned', { day: dayOf(data.planned_on) }) }}
        </p>
      </div>
      <div class="words">
        <p class="soft">{{ t('mail.from', { sender: data.sender }) }}</p>
        <template v-if="looking">
          <article :aria-label="t('mail.preview')">
            <b>{{ subject }}</b>
            <pre>{{ body }}</pre>
          </article>
        </template>
        <template v-else>
          <ElFormItem :label="t('mail.subject')" :error="faultAt('subject')">
            <ElInput v-model="subject" name="subject" maxlength="200" />
          </ElFormItem>
          <ElFormItem :label="t('mail.body')" :error="faultAt('body')">
            <ElInput v-model="body" name="body" type="textarea" :rows="9" maxlength="10000" />
          </ElFormItem>
        </template>
        <p v-if="missing.length" class="open" role="status">
          {{ t('mail.stillOpen', { fields: named(missing) }) }}
        </p>
        <p v-if="wrong" class="fault" role="alert">{{ wrong }}</p>
      </div>
    </div>
    <ElButton type="primary" native-type="submit" :loading="busy">{{ t('mail.send') }}</ElButton>
    <ElButton :aria-pressed="looking" @click="looking = !looking">{{
      t(looking ? 'mail.write' : 'mail.preview')
    }}</ElButton>
  </StepPanel>
</template>

<style scoped>
.mail {
  display: grid;
  grid-template-columns: minmax(240px, 1fr) 2fr;
  gap: 8px 24px;
  flex: 1 1 100%;
}
.fields {
  display: flex;
  flex-direction: column;
  gap: 6px;
}
.fields :deep(.el-checkbox-group) {
  display: flex;
  flex-wrap: wrap;
  gap: 0 18px;
}
article {
  padding: 12px 16px;
  border-left: 4px solid var(--rule);
}
pre {
  margin: 8px 0 0;
  font: inherit;
  white-space: pre-wrap;
}
.open {
  padding: 4px 10px;
  background: var(--amber-soft);
  color: var(--amber-ink);
}
@media (max-width: 820px) {
  .mail {
    grid-template-columns: 1fr;
  }
}
</style>
