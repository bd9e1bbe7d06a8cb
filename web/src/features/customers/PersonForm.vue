<script setup lang="ts">
/** Somebody new at a customer; what the server refuses is told at its field. */
import { reactive } from 'vue'
import { api, take } from '@/api/client'
import { useFormAct } from '@/kit/form/useFormAct'
import { t } from '@/words'

const props = defineProps<{ customer: number }>()
const emit = defineEmits<{ added: [] }>()
const person = reactive({ name: '', role: '', email: '', phone: '' })
const { busy, faultAt, elsewhere, run } = useFormAct(['name', 'role', 'email', 'phone'])

const add = () =>
  run(async () => {
    await take(
      api.POST('/api/customers/{customer_id}/contacts', {
        params: { path: { customer_id: props.customer } },
        body: person,
      }),
    )
    emit('added')
  })
</script>

<template>
  <ElForm class="form fold" label-position="top" @submit.prevent="add">
    <ElFormItem :label="t('customers.people.name')" :error="faultAt('name')">
      <ElInput v-model="person.name" maxlength="80" required />
    </ElFormItem>
    <ElFormItem :label="t('customers.people.role')" :error="faultAt('role')">
      <ElInput v-model="person.role" maxlength="60" />
    </ElFormItem>
    <ElFormItem :label="t('customers.people.mail')" :error="faultAt('email')">
      <ElInput v-model="person.email" type="email" />
    </ElFormItem>
    <ElFormItem :label="t('customers.people.phone')" :error="faultAt('phone')">
      <ElInput v-model="person.phone" maxlength="40" />
    </ElFormItem>
    <p v-if="elsewhere" class="fault" role="alert">{{ elsewhere }}</p>
    <ElButton native-type="submit" :loading="busy">{{ t('diary.add') }}</ElButton>
  </ElForm>
</template>
