<script setup lang="ts">
/** A new place of a customer; what the server refuses is told at its field. */
import { reactive } from 'vue'
import { api, take } from '@/api/client'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import { useFormAct } from '@/kit/form/useFormAct'
import { t } from '@/words'

const props = defineProps<{ customer: number; country: string }>()
const emit = defineEmits<{ added: [] }>()
type Kind = 'delivery' | 'invoice'
const place = reactive({
  kind: 'delivery' as Kind,
  label: '',
  street: '',
  postcode: '',
  town: '',
  country: props.country,
})
const kinds = [
  { value: 'delivery' as Kind, label: t('customers.people.deliveries') },
  { value: 'invoice' as Kind, label: t('customers.people.invoices') },
]
const { busy, faultAt, elsewhere, run } = useFormAct(Object.keys(place))

const add = () =>
  run(async () => {
    await take(
      api.POST('/api/customers/{customer_id}/addresses', {
        params: { path: { customer_id: props.customer } },
        body: { ...place, country: place.country.trim().toUpperCase() },
      }),
    )
    emit('added')
  })
</script>

<template>
  <ElForm class="form fold" label-position="top" @submit.prevent="add">
    <ChoiceField
      :model-value="place.kind"
      :choices="kinds"
      :label="t('customers.people.for')"
      name="kind"
      @update:model-value="(kind) => kind && (place.kind = kind)"
    />
    <ElFormItem :label="t('customers.people.knownAs')" :error="faultAt('label')">
      <ElInput v-model="place.label" name="label" maxlength="60" />
    </ElFormItem>
    <ElFormItem :label="t('customers.people.street')" :error="faultAt('street')">
      <ElInput v-model="place.street" name="street" maxlength="120" required />
    </ElFormItem>
    <ElFormItem :label="t('customers.people.postcode')" :error="faultAt('postcode')">
      <ElInput v-model="place.postcode" name="postcode" maxlength="16" />
    </ElFormItem>
    <ElFormItem :label="t('customers.people.town')" :error="faultAt('town')">
      <ElInput v-model="place.town" name="town" maxlength="80" required />
    </ElFormItem>
    <ElFormItem :label="t('customers.people.country')" :error="faultAt('country')">
      <ElInput v-model="place.country" name="country" maxlength="2" required />
    </ElFormItem>
    <p v-if="elsewhere" class="fault" role="alert">{{ elsewhere }}</p>
    <ElButton native-type="submit" :loading="busy">{{ t('diary.add') }}</ElButton>
  </ElForm>
</template>
