<script setup lang="ts">
/** A lead in ten seconds, on a phone too: who, what about, how to reach them. The rest when there is time. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, onMounted, shallowRef, useTemplateRef } from 'vue'
import type { InputInstance } from 'element-plus'
import { useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import type { Fault } from '@/api/fault'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { useKeptForm } from '@/kit/draft/useKeptForm'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import { todayIso } from '@/kit/format/format'
import { t } from '@/words'
import { sourceChoices, type Source } from './sources'
import { staleByLead } from './queries'

const router = useRouter()
const client = useQueryClient()
const first = useTemplateRef<InputInstance>('first')
onMounted(() => first.value?.focus())
const { form, clear } = useKeptForm(me.value?.id ?? 0, 'new-lead', 1, () => ({
  name: '',
  company: '',
  topic: '',
  phone: '',
  email: '',
  need: '',
  source: null as Source | null,
  nextStep: '',
  nextOn: null as string | null,
  owner: null as number | null,
}))
const people = computed(() =>
  (me.value?.people ?? []).map((person) => ({ value: person.id, label: person.name })),
)
const fault = shallowRef<Fault | null>(null)
const FIELDS = ['name', 'email']
const { busy, run } = useAct((refused) => {
  fault.value = refused
  return FIELDS.includes(refused.path)
})
const faultAt = (path: string) => (fault.value?.path === path ? fault.value.message : '')
const make = () =>
  run(async () => {
    fault.value = null
    const { source, nextStep, nextOn, owner, ...texts } = form.value
    const body = { ...texts, source: source ?? ('' as const), next_step: nextStep, next_on: nextOn, owner_id: owner } // prettier-ignore
    const made = await take(api.POST('/api/leads', { body }))
    clear()
    staleByLead(client)
    say(t('leads.made'))
    await router.push(`/leads/${made.id}`)
  })
</script>

<template>
  <div class="page narrow">
    <h1>{{ t('leads.new') }}</h1>
    <ElForm class="card" label-position="top" novalidate @submit.prevent="make">
      <div class="form">
        <ElFormItem :label="t('leads.name')" :error="faultAt('name')">
          <ElInput ref="first" v-model="form.name" name="name" maxlength="80" autocomplete="off" />
        </ElFormItem>
        <ElFormItem :label="t('leads.company')">
          <ElInput v-model="form.company" name="company" maxlength="120" autocomplete="off" />
        </ElFormItem>
        <ElFormItem class="two" :label="t('leads.topic')">
          <ElInput v-model="form.topic" name="topic" maxlength="120" autocomplete="off" />
        </ElFormItem>
        <ElFormItem :label="t('leads.phone')">
          <ElInput v-model="form.phone" name="phone" type="tel" maxlength="40" />
        </ElFormItem>
        <ElFormItem :label="t('leads.mail')" :error="faultAt('email')">
          <ElInput v-model="form.email" name="email" type="email" maxlength="200" />
        </ElFormItem>
      </div>
      <p class="acts">
        <ElButton type="primary" native-type="submit" :loading="busy">{{
          t('leads.make')
        }}</ElButton>
        <RouterLink class="btn quiet" to="/leads">{{ t('kit.step.notYet') }}</RouterLink>
      </p>
      <div class="form more">
        <ElFormItem class="two" :label="t('leads.need')">
          <ElInput v-model="form.need" name="need" type="textarea" :rows="3" maxlength="1000" />
        </ElFormItem>
        <ChoiceField
          v-model="form.source"
          :choices="sourceChoices()"
          :label="t('leads.source')"
          clearable
        />
        <ChoiceField
          v-if="me?.leads"
          v-model="form.owner"
          :choices="people"
          :label="t('list.rep')"
          clearable
          :placeholder="t('deals.new.myself')"
        />
        <ElFormItem :label="t('leads.nextStep')">
          <ElInput v-model="form.nextStep" name="next_step" maxlength="200" />
        </ElFormItem>
        <DayField v-model="form.nextOn" :label="t('leads.nextOn')" :from="todayIso()" clearable />
      </div>
    </ElForm>
  </div>
</template>

<style scoped>
.form {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 16px;
}
.two {
  grid-column: 1 / -1;
}
.more {
  margin-top: 12px;
  padding-top: 12px;
  border-top: 1px solid var(--rule);
}
.acts {
  display: flex;
  margin-top: 12px;
  gap: 10px;
}
@media (max-width: 600px) {
  .form {
    grid-template-columns: 1fr;
  }
}
</style>
