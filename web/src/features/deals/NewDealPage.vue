<script setup lang="ts">
/** A new deal, with its customer and contact made in place. What is typed outlives a closed page. */
import { computed } from 'vue'
import { me } from '@/api/session'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import TextField from '@/kit/form/TextField.vue'
import { useFields } from '@/kit/form/unread'
import { figure, todayIso } from '@/kit/format/format'
import CustomerPick from '@/parts/customer/CustomerPick.vue'
import LikelyCustomers from '@/parts/customer/LikelyCustomers.vue'
import StandingStrip from '@/parts/customer/StandingStrip.vue'
import { confidenceChoices } from '@/parts/deal/confidence'
import { readAmount } from '@/parts/line/numbers'
import { t } from '@/words'
import { useStages } from './queries'
import { SOMEBODY_NEW, useNewDeal } from './useNewDeal'

const { form, clear, chosen, someone, busy, faultAt, elsewhere, make } = useNewDeal()
const stages = useStages()
const settle = useFields()
/** Nothing is made while a field holds what could not be read. */
function send(): void {
  const unread = settle()
  if (unread) unread.focus()
  else void make()
}
const base = computed(() => me.value?.base_currency ?? '')
const contacts = computed(() => [
  ...(chosen.data.value?.contacts ?? []).map((c) => ({
    value: c.id,
    label: c.name,
    detail: c.role,
  })),
  { value: SOMEBODY_NEW, label: t('deals.new.somebody') },
])
const open = computed(() =>
  (stages.data.value ?? [])
    .filter((stage) => stage.outcome === 'open' && !stage.retired)
    .map((stage) => ({ value: stage.code, label: stage.name })),
)
const people = computed(() =>
  (me.value?.people ?? []).map((person) => ({ value: person.id, label: person.name })),
)
const readEstimate = (text: string) =>
  readAmount(text || '0', base.value, me.value?.base_digits ?? 0)
</script>

<template>
  <div class="page narrow">
    <h1>{{ t('deals.new.title') }}</h1>
    <ElForm class="card" label-position="top" novalidate @submit.prevent="send">
      <div class="form">
        <CustomerPick
          v-model="form.customer"
          v-model:fresh="form.newCustomer"
          class="two"
          may-make
          :error="faultAt('customer', 'customer_id', 'new_customer')"
        />
        <LikelyCustomers
          v-if="!form.customer && form.newCustomer"
          class="standing"
          :name="form.newCustomer"
          :mail="form.email"
          :phone="form.phone"
          @choose="(id) => Object.assign(form, { customer: id, newCustomer: '' })"
        />
        <StandingStrip
          v-if="form.customer && chosen.data.value"
          class="standing"
          :standing="chosen.data.value.standing"
          :to="`/customers/${form.customer}`"
        />
        <TextField
          class="two"
          :text="form.title"
          :label="t('deals.new.about')"
          name="title"
          :maxlength="120"
          :error="faultAt('title')"
          @change="(title) => (form.title = title)"
        />
        <ChoiceField
          v-if="form.customer"
          v-model="form.contact"
          :choices="contacts"
          :label="t('deals.form.contact')"
          name="contact"
          clearable
          :placeholder="t('deals.form.nobody')"
        />
        <template v-if="someone">
          <ElFormItem :label="t('deals.new.contactName')">
            <ElInput v-model="form.newContact" name="new_contact" maxlength="80" />
          </ElFormItem>
          <ElFormItem :label="t('deals.new.mail')" :error="faultAt('contact_email')">
            <ElInput v-model="form.email" name="email" type="email" />
          </ElFormItem>
          <ElFormItem :label="t('deals.new.phone')">
            <ElInput v-model="form.phone" name="phone" maxlength="40" />
          </ElFormItem>
        </template>
        <TextField
          :text="figure(form.estimate)"
          :label="t('deals.form.estimate', { currency: base })"
          name="estimate"
          figure
          :read="readEstimate"
          :error="faultAt('estimate')"
          @change="(estimate) => (form.estimate = estimate)"
        />
        <DayField
          v-model="form.decision"
          :label="t('deals.form.decision')"
          name="decision"
          :from="todayIso()"
          :error="faultAt('decision_on')"
        />
        <ChoiceField
          v-model="form.stage"
          :choices="open"
          :label="t('deals.form.stage')"
          name="stage"
          :placeholder="open[0]?.label"
          :error="faultAt('stage')"
        />
        <ChoiceField
          :model-value="form.confidence"
          :choices="confidenceChoices()"
          :label="t('deals.form.confidence')"
          name="confidence"
          @update:model-value="(chosen) => chosen && (form.confidence = chosen)"
        />
        <ChoiceField
          v-if="me?.leads"
          v-model="form.owner"
          :choices="people"
          :label="t('list.rep')"
          name="owner"
          clearable
          :placeholder="t('deals.new.myself')"
        />
      </div>
      <p v-if="elsewhere" class="fault" role="alert">{{ elsewhere }}</p>
      <p class="acts">
        <ElButton type="primary" native-type="submit" :loading="busy">{{
          t('deals.new.act')
        }}</ElButton>
        <RouterLink class="btn quiet" to="/deals">{{ t('kit.step.notYet') }}</RouterLink>
        <span class="soft">{{ t('deals.new.kept') }}</span>
        <ElButton text size="small" @click="clear">{{ t('deals.new.clear') }}</ElButton>
      </p>
    </ElForm>
  </div>
</template>

<style scoped>
.narrow {
  max-width: 860px;
}
h1 {
  margin-bottom: 10px;
}
.card {
  padding: 18px 22px;
}
.standing {
  grid-column: 1 / -1;
}
.form {
  grid-template-columns: repeat(4, minmax(0, 1fr));
  align-items: start;
}
.two {
  grid-column: span 2;
}
.acts {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-top: 18px;
  flex-wrap: wrap;
}
.fault {
  margin-top: 12px;
}
@media (max-width: 820px) {
  .form {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
