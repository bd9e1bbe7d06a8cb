<script setup lang="ts">
/** What a customer is called, and for the lead what they buy by: changed in place, each with its reason at its field. */
import { computed } from 'vue'
import { me } from '@/api/session'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import TextField from '@/kit/form/TextField.vue'
import { figure } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import SureButton from '@/kit/step/SureButton.vue'
import CustomerPick from '@/parts/customer/CustomerPick.vue'
import { readAmount } from '@/parts/line/numbers'
import PaymentTerms from '@/parts/terms/PaymentTerms.vue'
import { t } from '@/words'
import { useChangeCustomer } from './useChangeCustomer'

const props = defineProps<{ customer: number }>()
const emit = defineEmits<{ close: [] }>()
const { data, error, refetch, own, terms, more, saveOwn, saveTerms, retire, lookAgain, theirs, busy, fault, faultAt, elsewhere } = useChangeCustomer(props.customer) // prettier-ignore
const languages = (['en', 'de'] as const).map((value) => ({ value, label: t(`customers.change.languages.${value}`) })) // prettier-ignore
const people = computed(() => (me.value?.people ?? []).map(({ id, name }) => ({ value: id, label: name }))) // prettier-ignore
const lists = computed(() => (data.value?.price_lists ?? []).map(({ id, name }) => ({ value: id, label: name }))) // prettier-ignore
const readLimit = (text: string) =>
  text.trim() ? readAmount(text, me.value?.base_currency ?? '', me.value?.base_digits ?? 0) : { value: '' } // prettier-ignore
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
        <ElCheckbox v-model="own.partial_deliveries" name="partial_deliveries">{{
          t('customers.change.parts')
        }}</ElCheckbox>
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
        <ElCheckbox v-model="more.priority" name="priority">{{
          t('customers.change.priority')
        }}</ElCheckbox>
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
            @change="(next) => Object.assign(terms, next)"
          />
        </div>
        <ElButton class="foot" native-type="submit" :loading="busy">{{
          t('customers.change.saveTerms')
        }}</ElButton>
      </ElForm>
      <p v-if="elsewhere" class="fault" role="alert">
        {{ elsewhere }}
        <template v-if="theirs.length">{{
          t('customers.change.theirs', { values: theirs.join(', ') })
        }}</template>
        <ElButton v-if="fault?.status === 409" text size="small" @click="lookAgain">{{
          t('customers.change.showIt')
        }}</ElButton>
      </p>
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
