<script setup lang="ts">
/** How one's mails begin and end: a signature, and the words of each kind; an administrator keeps the house's. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { useFormAct } from '@/kit/form/useFormAct'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'
import WordEditions from './WordEditions.vue'

const KINDS = ['quote', 'reminder', 'order', 'invoice', 'visit', 'free'] as const
const LANGUAGES = ['en', 'de'] as const
type Whose = 'own' | 'house' | 'shipped'
const client = useQueryClient()
const kind = ref<(typeof KINDS)[number]>('quote')
const language = ref<(typeof LANGUAGES)[number]>('en')
const kinds = KINDS.map((value) => ({ value, label: t(`account.mail.kinds.${value}`) }))
const languages = LANGUAGES.map((value) => ({
  value,
  label: t(`customers.change.languages.${value}`),
}))
const house = computed(() => me.value?.keeps ?? false)
const key = computed(() => ['mail-words', kind.value, language.value])
const { data, error, refetch } = useQuery({
  queryKey: key,
  queryFn: ({ signal }) => {
    const query = { kind: kind.value, language: language.value }
    return take(api.GET('/api/mail-words', { params: { query }, signal }))
  },
})
/** As they are typed. */
const fields = computed(() => (data.value?.fields ?? []).map((each) => '{' + each + '}').join(', '))
const subject = ref('')
const body = ref('')
watch(
  data,
  (now) => {
    subject.value = now?.subject ?? ''
    body.value = now?.body ?? ''
  },
  { immediate: true },
)
const ending = useQuery({
  queryKey: ['mail-signature'],
  queryFn: ({ signal }) => take(api.GET('/api/mail-signature', { signal })),
})
const signature = ref('')
watch(ending.data, (now) => (signature.value = now?.text ?? ''), { immediate: true })
const { busy, faultAt, elsewhere, run } = useFormAct(['subject', 'body'])
const keep = ({ subject, body }: { subject: string; body: string }) =>
  run(async () => {
    const words = { subject, body }
    const given = { kind: kind.value, language: language.value, own: !house.value, ...words }
    client.setQueryData(key.value, await take(api.PUT('/api/mail-words', { body: given })))
    void client.invalidateQueries({ queryKey: [...key.value, 'editions'] })
    say(t(words.body ? 'account.mail.kept' : 'account.mail.tookBack'))
  })
const named = (open: string[]) =>
  open.map((each) => t(`mail.fields.${each as 'contact'}`)).join(', ')
const sign = () =>
  run(async () => {
    const told = await take(api.PUT('/api/mail-signature', { body: { text: signature.value } }))
    client.setQueryData(['mail-signature'], told)
    say(t('account.mail.signed'))
  })
/** The words as they are typed, on a record of one's own. */
const tried = shallowRef<Shapes['TriedOut'] | null>(null)
const tryOn = () =>
  run(async () => {
    const given = { kind: kind.value, language: language.value }
    const body_ = { ...given, subject: subject.value, body: body.value }
    tried.value = await take(api.POST('/api/mail-words/try', { body: body_ }))
  })
watch([kind, language], () => (tried.value = null))
const mine = computed(() => data.value?.whose === (house.value ? 'house' : 'own'))
</script>

<template>
  <section class="card" :aria-label="t('account.mail.title')">
    <header>
      <h2>{{ t('account.mail.title') }}</h2>
      <span class="soft">{{ t(house ? 'account.mail.ofHouse' : 'account.mail.ofOne') }}</span>
    </header>
    <ElForm label-position="top" @submit.prevent="sign">
      <ElFormItem :label="t('account.mail.signature')">
        <ElInput v-model="signature" type="textarea" :rows="2" maxlength="1000" name="signature" />
      </ElFormItem>
      <ElButton native-type="submit" size="small" :disabled="busy">{{
        t('account.mail.sign')
      }}</ElButton>
    </ElForm>
    <ElForm class="which" label-position="top" @submit.prevent>
      <ChoiceField v-model="kind" :choices="kinds" :label="t('account.mail.kind')" />
      <ChoiceField v-model="language" :choices="languages" :label="t('account.mail.language')" />
    </ElForm>
    <LoadState v-if="!data" :error="error" :rows="4" @again="refetch()" />
    <ElForm v-else label-position="top" @submit.prevent="keep({ subject, body })">
      <p class="soft">
        {{ t(`account.mail.whose.${data.whose as Whose}`) }}
        {{ t('account.mail.fields', { fields }) }}
      </p>
      <ElFormItem :label="t('mail.subject')" :error="faultAt('subject')">
        <ElInput v-model="subject" name="words-subject" maxlength="200" />
      </ElFormItem>
      <ElFormItem :label="t('mail.body')" :error="faultAt('body')">
        <ElInput v-model="body" name="words-body" type="textarea" :rows="8" maxlength="10000" />
      </ElFormItem>
      <p v-if="elsewhere" class="fault" role="alert">{{ elsewhere }}</p>
      <span class="chips">
        <ElButton native-type="submit" :loading="busy" :disabled="!body.trim()">{{
          t('account.mail.keep')
        }}</ElButton>
        <ElButton :disabled="busy || !body.trim()" @click="tryOn">{{
          t('account.mail.tryOn')
        }}</ElButton>
        <ElButton v-if="mine" text :disabled="busy" @click="keep({ subject: '', body: '' })">{{
          t('account.mail.takeBack')
        }}</ElButton>
      </span>
    </ElForm>
    <WordEditions :kind="kind" :language="language" :busy="busy" @back="keep" />
    <article v-if="tried" class="tried" :aria-label="t('account.mail.tryOn')">
      <p class="soft">
        {{
          tried.record
            ? t('account.mail.triedOn', { customer: tried.customer, record: tried.record })
            : t('account.mail.triedFor', { customer: tried.customer })
        }}
      </p>
      <b>{{ tried.subject }}</b>
      <pre>{{ tried.body }}</pre>
      <p v-if="tried.missing.length" class="open" role="status">
        {{ t('mail.stillOpen', { fields: named(tried.missing) }) }}
      </p>
    </article>
  </section>
</template>

<style scoped>
section.card {
  margin-top: 14px;
}
.which {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 16px;
  margin-top: 18px;
}
.chips .el-button {
  margin: 6px 0 0;
}
.tried {
  margin-top: 14px;
  padding-left: 14px;
  border-left: 4px solid var(--rule);
}
.tried pre {
  font: inherit;
  white-space: pre-wrap;
  margin: 6px 0;
}
.open {
  color: var(--signal);
}
section :deep(.el-form-item) {
  margin-bottom: 8px;
}
p {
  margin-bottom: 6px;
}
</style>
