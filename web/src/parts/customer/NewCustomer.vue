<script setup lang="ts">
/** A new customer and the first person there, in place; who may be there already is shown first. */
import { reactive } from 'vue'
import { api, take } from '@/api/client'
import { useFormAct } from '@/kit/form/useFormAct'
import { t } from '@/words'
import LikelyCustomers from './LikelyCustomers.vue'

const emit = defineEmits<{ chosen: [id: number]; close: [] }>()
const typed = reactive({ name: '', contact: '', email: '', phone: '' })
const { busy, faultAt, elsewhere, run } = useFormAct([
  ...Object.keys(typed),
  'customer.name',
  'contact.name',
])
const make = () =>
  run(async () => {
    const made = await take(api.POST('/api/customers', { body: typed }))
    emit('chosen', made.id)
  })
</script>

<template>
  <ElForm class="card" label-position="top" novalidate @submit.prevent="make">
    <h2>{{ t('parts.customer.make.title') }}</h2>
    <div class="form">
      <ElFormItem
        :label="t('parts.customer.make.name')"
        :error="faultAt('name', 'customer.name')"
        class="two"
      >
        <ElInput v-model="typed.name" name="name" maxlength="120" autofocus required />
      </ElFormItem>
      <ElFormItem
        :label="t('parts.customer.make.contact')"
        :error="faultAt('contact', 'contact.name')"
      >
        <ElInput v-model="typed.contact" name="contact" maxlength="80" />
      </ElFormItem>
      <ElFormItem :label="t('parts.customer.make.mail')" :error="faultAt('email')">
        <ElInput v-model="typed.email" name="email" type="email" />
      </ElFormItem>
      <ElFormItem :label="t('parts.customer.make.phone')" :error="faultAt('phone')">
        <ElInput v-model="typed.phone" name="phone" maxlength="40" />
      </ElFormItem>
    </div>
    <LikelyCustomers
      :name="typed.name"
      :mail="typed.email"
      :phone="typed.phone"
      @choose="(id) => emit('chosen', id)"
    />
    <p v-if="elsewhere" class="fault" role="alert">{{ elsewhere }}</p>
    <p class="acts">
      <ElButton type="primary" native-type="submit" :loading="busy">{{
        t('parts.customer.make.act')
      }}</ElButton>
      <ElButton text @click="emit('close')">{{ t('kit.step.notYet') }}</ElButton>
    </p>
  </ElForm>
</template>

<style scoped>
.card {
  padding: 14px 18px;
  margin-bottom: 12px;
}
.two {
  grid-column: span 2;
}
h2 {
  margin-bottom: 10px;
}
.form {
  grid-template-columns: repeat(5, minmax(0, 1fr));
  margin-bottom: 10px;
}
.acts {
  display: flex;
  gap: 10px;
  margin-top: 12px;
}
@media (max-width: 820px) {
  .form {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
