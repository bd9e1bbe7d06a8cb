<script setup lang="ts">
/** A place of a customer, new or changed; what the server refuses is told at its field. */
import { reactive } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import { useFormAct } from '@/kit/form/useFormAct'
import { t } from '@/words'

type Place = Shapes['AddressOut']
type Kind = 'delivery' | 'invoice'
const props = defineProps<{ customer: number; country: string; place?: Place }>()
const emit = defineEmits<{ done: [place: Place]; retire: [] }>()
const typed = reactive({
  kind: (props.place?.kind ?? 'delivery') as Kind,
  label: props.place?.label ?? '',
  street: props.place?.street ?? '',
  postcode: props.place?.postcode ?? '',
  town: props.place?.town ?? '',
  country: props.place?.country ?? props.country,
})
const kinds = [
  { value: 'delivery' as Kind, label: t('customers.people.deliveries') },
  { value: 'invoice' as Kind, label: t('customers.people.invoices') },
]
const { busy, faultAt, elsewhere, run } = useFormAct(Object.keys(typed))

const save = () =>
  run(async () => {
    const body = { ...typed, country: typed.country.trim().toUpperCase() }
    if (props.place) {
      const { id, version } = props.place
      const params = { path: { address_id: id } }
      const changed = { params, body: { version, ...body } }
      emit('done', await take(api.PATCH('/api/addresses/{address_id}', changed)))
    } else {
      const params = { path: { customer_id: props.customer } }
      const made = api.POST('/api/customers/{customer_id}/addresses', { params, body })
      emit('done', await take(made))
    }
  })
</script>

<template>
  <ElForm class="form fold" label-position="top" novalidate @submit.prevent="save">
    <ChoiceField
      :model-value="typed.kind"
      :choices="kinds"
      :label="t('customers.people.for')"
      name="kind"
      @update:model-value="(kind) => kind && (typed.kind = kind)"
    />
    <ElFormItem :label="t('customers.people.knownAs')" :error="faultAt('label')">
      <ElInput v-model="typed.label" name="label" maxlength="60" />
    </ElFormItem>
    <ElFormItem :label="t('customers.people.street')" :error="faultAt('street')">
      <ElInput v-model="typed.street" name="street" maxlength="120" required />
    </ElFormItem>
    <ElFormItem :label="t('customers.people.postcode')" :error="faultAt('postcode')">
      <ElInput v-model="typed.postcode" name="postcode" maxlength="16" />
    </ElFormItem>
    <ElFormItem :label="t('customers.people.town')" :error="faultAt('town')">
      <ElInput v-model="typed.town" name="town" maxlength="80" required />
    </ElFormItem>
    <ElFormItem :label="t('customers.people.country')" :error="faultAt('country')">
      <ElInput v-model="typed.country" name="country" maxlength="2" required />
    </ElFormItem>
    <p v-if="elsewhere" class="fault" role="alert">{{ elsewhere }}</p>
    <span class="chips">
      <ElButton native-type="submit" :loading="busy">{{
        t(place ? 'customers.change.save' : 'diary.add')
      }}</ElButton>
      <ElButton v-if="place" text @click="emit('retire')">{{
        t('customers.people.notUsed')
      }}</ElButton>
    </span>
  </ElForm>
</template>
