<script setup lang="ts">
/** A mail about a record: opened in place, with its words and papers; looked through, then sent. */
import { nextTick, useTemplateRef, watch } from 'vue'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import { day as dayOf } from '@/kit/format/format'
import { useKeys } from '@/kit/keys/useKeys'
import LoadState from '@/kit/show/LoadState.vue'
import StepPanel from '@/kit/step/StepPanel.vue'
import { t } from '@/words'
import MailFollow from './MailFollow.vue'
import { ANOTHER, useMailDraft, type MailAbout } from './useMailDraft'

const props = defineProps<MailAbout & { title: string }>()
const emit = defineEmits<{ close: []; sent: [] }>()
const mail = useMailDraft(props, () => {
  emit('sent')
  emit('close')
})
const { form, data, error, refetch, people, contact, subject, body, papers } = mail
const { follow, followOn, missing, looking, wrong, busy, faultAt, named, send } = mail
const whole = useTemplateRef<HTMLElement>('whole')
/** A mail goes out by its button or by Ctrl Enter, never by an Enter on the way. */
function hold(event: KeyboardEvent): void {
  if (event.target instanceof HTMLInputElement) event.preventDefault()
}
// As a place of its own: the page below knows the same stroke, and would go its next step.
useKeys(() => ({
  title: props.title,
  keys: [{ keys: 'Ctrl Enter', does: t('mail.send'), act: () => void send(), whileTyping: true }],
}))
/** Its subject is looked at first; of an answer what is to be said, below the greeting. */
const begin = () => {
  const first = props.answers ? 'textarea' : '[name=subject]'
  const field = whole.value?.querySelector<HTMLTextAreaElement>(first)
  field?.focus()
  if (!field || !props.answers) return
  const at = field.value.indexOf('\n\n') + '\n\n'.length
  field.setSelectionRange(at, at)
  field.scrollTop = 0
}
watch(
  () => data.value !== undefined,
  (there) => there && void nextTick(begin),
  { immediate: true },
)
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
