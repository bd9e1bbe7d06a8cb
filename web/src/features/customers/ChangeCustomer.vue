<script setup lang="ts">
/** What a customer is called, and for the lead what they buy by: changed in place, each with its reason at its field. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import TextField from '@/kit/form/TextField.vue'
import { useFormAct } from '@/kit/form/useFormAct'
import { figure } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import SureButton from '@/kit/step/SureButton.vue'
import CustomerPick from '@/parts/customer/CustomerPick.vue'
import { readAmount } from '@/parts/line/numbers'
import type { TermsFields } from '@/parts/terms/fields'
import PaymentTerms from '@/parts/terms/PaymentTerms.vue'
import { t } from '@/words'
import { customerKey } from './queries'

type Fields = Shapes['CustomerFields']
const props = defineProps<{ customer: number }>()
const emit = defineEmits<{ close: [] }>()
const client = useQueryClient()
const path = { customer_id: props.customer }
const { data, error, refetch } = useQuery({
  queryKey: [...customerKey(props.customer), 'fields'],
  queryFn: () => take(api.GET('/api/customers/{customer_id}/fields', { params: { path } })),
})
const own = reactive({ name: '', kind: '', tax_number: '', language: 'en' })
const terms = ref<TermsFields>({ terms_days: 30, terms_end_of_month: '', terms_more: {} as TermsFields['terms_more'] }) // prettier-ignore
const more = reactive({ tier: '', price_list_id: 0, parent: null as number | null, owner: 0, limit: '' }) // prettier-ignore
/** What is shown is what is there, anew with each answer. */
function show(now: Fields): void {
  Object.assign(own, { name: now.name, kind: now.kind, tax_number: now.tax_number, language: now.language }) // prettier-ignore
  terms.value = {
    terms_days: now.terms_days,
    terms_end_of_month: now.terms_end_of_month as TermsFields['terms_end_of_month'],
    terms_more: now.terms_more as TermsFields['terms_more'],
  }
  Object.assign(more, { tier: now.tier, price_list_id: now.price_list_id, parent: now.parent_id, owner: now.owner_id, limit: now.credit_limit ?? '' }) // prettier-ignore
}
watch(data, (now) => now && show(now), { immediate: true })
const languages = (['en', 'de'] as const).map((value) => ({ value, label: t(`customers.change.languages.${value}`) })) // prettier-ignore
const people = computed(() => (me.value?.people ?? []).map(({ id, name }) => ({ value: id, label: name }))) // prettier-ignore
const lists = computed(() => (data.value?.price_lists ?? []).map(({ id, name }) => ({ value: id, label: name }))) // prettier-ignore
const readLimit = (text: string) =>
  text.trim() ? readAmount(text, me.value?.base_currency ?? '', me.value?.base_digits ?? 0) : { value: '' } // prettier-ignore
const { busy, fault, faultAt, elsewhere, run } = useFormAct(['name', 'kind', 'tax_number', 'tier', 'credit_limit', 'parent_id', 'owner_id']) // prettier-ignore
function saved(now: Fields): void {
  client.setQueryData([...customerKey(props.customer), 'fields'], now)
  void client.invalidateQueries({ queryKey: customerKey(props.customer), exact: true })
  say(t('customers.change.saved'))
}
const saveOwn = () =>
  run(async () => {
    const body = { version: data.value?.version ?? 0, ...own, language: own.language as 'en' | 'de' } // prettier-ignore
    saved(await take(api.PATCH('/api/customers/{customer_id}/fields', { params: { path }, body })))
  })
const saveTerms = () =>
  run(async () => {
    const body = {
      version: data.value?.version ?? 0,
      ...terms.value,
      tier: more.tier,
      price_list_id: more.price_list_id,
      owner_id: more.owner,
      parent_id: more.parent,
      no_parent: !more.parent,
      credit_limit: more.limit || null,
      no_limit: !more.limit,
    }
    saved(await take(api.PATCH('/api/customers/{customer_id}/terms', { params: { path }, body })))
  })
const retire = (retired: boolean) =>
  run(async () => {
    const body = { version: data.value?.version ?? 0, retired }
    const now = await take(
      api.POST('/api/customers/{customer_id}/retire', { params: { path }, body }),
    )
    saved(now)
    void client.invalidateQueries({ queryKey: ['customers'] })
    if (retired) say(t('customers.retire.done', { name: now.name }), () => void retire(false))
  })
</script>

<template>
  <section class="card change" :aria-label="t('customers.change.title')">
    <header>
      <h2>{{ t('customers.change.title') }}</h2>
      <ElButton size="small" text @click="emit('close')">{{
        t('customers.change.close')
      }}</ElButton>
    </header>
    <LoadState v-if="!data" :error="error" :rows="3" @again="refetch()" />
    <template v-else>
      <ElForm class="form" label-position="top" @submit.prevent="saveOwn">
        <ElFormItem class="two" :label="t('customers.people.name')" :error="faultAt('name')">
          <ElInput v-model="own.name" name="name" maxlength="120" required />
        </ElFormItem>
        <ElFormItem :label="t('customers.columns.kind')" :error="faultAt('kind')">
          <ElInput v-model="own.kind" name="kind" maxlength="40" />
        </ElFormItem>
        <ElFormItem :label="t('customers.change.tax')" :error="faultAt('tax_number')">
          <ElInput v-model="own.tax_number" name="tax_number" maxlength="30" />
          <small v-if="data.tax_number && data.tax_number_right === null" class="soft">{{
            t('customers.change.taxUnknown')
          }}</small>
        </ElFormItem>
        <ChoiceField
          :model-value="own.language"
          :choices="languages"
          :label="t('customers.change.language')"
          name="language"
          @update:model-value="(chosen) => chosen && (own.language = chosen)"
        />
        <ElButton class="foot" native-type="submit" :loading="busy">{{
          t('customers.change.save')
        }}</ElButton>
      </ElForm>
      <ElForm
        v-if="data.may_change_terms"
        class="form again"
        label-position="top"
        @submit.prevent="saveTerms"
      >
        <h3>{{ t('customers.change.terms') }}</h3>
        <ChoiceField
          :model-value="more.price_list_id"
          :choices="lists"
          :label="t('customers.change.list')"
          name="price_list"
          @update:model-value="(chosen) => chosen && (more.price_list_id = chosen)"
        />
        <ElFormItem :label="t('customers.change.tier')" :error="faultAt('tier')">
          <ElInput v-model="more.tier" name="tier" maxlength="20" />
        </ElFormItem>
        <TextField
          :text="more.limit ? figure(more.limit) : ''"
          :label="t('standing.limit')"
          name="credit_limit"
          figure
          :placeholder="t('customers.notSet')"
          :unit="me?.base_currency"
          :read="readLimit"
          :error="faultAt('credit_limit')"
          @change="(limit) => (more.limit = limit ?? '')"
        />
        <ChoiceField
          :model-value="more.owner"
          :choices="people"
          :label="t('list.rep')"
          name="owner"
          @update:model-value="(chosen) => chosen && (more.owner = chosen)"
        />
        <div class="two">
          <CustomerPick
            v-model="more.parent"
            :label="t('customers.change.parentOf')"
            :error="faultAt('parent_id')"
          />
          <small class="soft">{{ t('customers.change.parent') }}</small>
          <ElButton v-if="more.parent" text size="small" @click="more.parent = null">{{
            t('customers.change.noParent')
          }}</ElButton>
        </div>
        <div class="terms">
          <PaymentTerms
            :fields="terms"
            :fault="fault"
            @change="(next) => (terms = { ...terms, ...next })"
          />
        </div>
        <ElButton class="foot" native-type="submit" :loading="busy">{{
          t('customers.change.saveTerms')
        }}</ElButton>
      </ElForm>
      <p v-if="elsewhere" class="fault" role="alert">{{ elsewhere }}</p>
      <p class="end">
        <SureButton
          v-if="!data.retired_at"
          :label="t('customers.retire.act')"
          :question="t('customers.retire.question')"
          :act="t('customers.retire.act')"
          :disabled="busy"
          @go="retire(true)"
        />
        <ElButton v-else size="small" :loading="busy" @click="retire(false)">{{
          t('customers.retire.back')
        }}</ElButton>
      </p>
    </template>
  </section>
</template>

<style scoped>
.change {
  margin-top: 14px;
}
.form {
  grid-template-columns: repeat(5, minmax(0, 1fr));
  align-items: start;
}
.two {
  grid-column: span 2;
}
.terms {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: 10px 16px;
}
h3 {
  grid-column: 1 / -1;
  font-size: 13px;
}
.again {
  margin-top: 12px;
  padding-top: 12px;
  border-top: 1px solid var(--rule);
}
.foot {
  justify-self: start;
  align-self: end;
  margin-bottom: 2px;
}
.end {
  margin-top: 10px;
}
@media (max-width: 900px) {
  .form {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
