<script setup lang="ts">
/** Somebody at a customer, new or changed; what the server refuses is told at its field. */
import { reactive } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { useFormAct } from '@/kit/form/useFormAct'
import { t } from '@/words'

type Person = Shapes['ContactOut']
const props = defineProps<{ customer: number; person?: Person }>()
const emit = defineEmits<{ done: [person: Person]; retire: [] }>()
const { name = '', role = '', email = '', phone = '' } = props.person ?? {}
const typed = reactive({ name, role, email, phone })
const { busy, faultAt, elsewhere, run } = useFormAct(['name', 'role', 'email', 'phone'])

const save = () =>
  run(async () => {
    if (props.person) {
      const { id, version } = props.person
      const params = { path: { contact_id: id } }
      const body = { version, ...typed }
      emit('done', await take(api.PATCH('/api/contacts/{contact_id}', { params, body })))
    } else {
      const params = { path: { customer_id: props.customer } }
      const made = api.POST('/api/customers/{customer_id}/contacts', { params, body: typed })
      emit('done', await take(made))
    }
  })
</script>

<template>
  <ElForm class="form fold" label-position="top" novalidate @submit.prevent="save">
    <ElFormItem :label="t('customers.people.name')" :error="faultAt('name', 'contact.name')">
      <ElInput v-model="typed.name" maxlength="80" required />
    </ElFormItem>
    <ElFormItem :label="t('customers.people.role')" :error="faultAt('role')">
      <ElInput v-model="typed.role" maxlength="60" />
    </ElFormItem>
    <ElFormItem :label="t('customers.people.mail')" :error="faultAt('email')">
      <ElInput v-model="typed.email" type="email" />
    </ElFormItem>
    <ElFormItem :label="t('customers.people.phone')" :error="faultAt('phone')">
      <ElInput v-model="typed.phone" maxlength="40" />
    </ElFormItem>
    <p v-if="elsewhere" class="fault" role="alert">{{ elsewhere }}</p>
    <span class="chips">
      <ElButton native-type="submit" :loading="busy">{{
        t(person ? 'customers.change.save' : 'diary.add')
      }}</ElButton>
      <ElButton v-if="person" text @click="emit('retire')">{{
        t('customers.people.hasLeft')
      }}</ElButton>
    </span>
  </ElForm>
</template>
