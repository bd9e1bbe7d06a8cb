<script setup lang="ts">
/** Of which customer; where it belongs to a group, of the whole group. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '@/api/client'
import { t } from '@/words'
import CustomerPick from './CustomerPick.vue'

const customer = defineModel<string>({ required: true })
const family = defineModel<string>('family', { required: true })
const chosen = computed({
  get: () => (customer.value ? Number(customer.value) : null),
  set: (id) => (customer.value = id ? String(id) : ''),
})
const { data } = useQuery({
  queryKey: computed(() => ['customer', chosen.value]),
  queryFn: ({ signal }) => {
    const path = { customer_id: chosen.value ?? 0 }
    return take(api.GET('/api/customers/{customer_id}', { params: { path }, signal }))
  },
  enabled: computed(() => chosen.value !== null),
})
const grouped = computed(() => chosen.value !== null && !!data.value?.group)
const whole = computed({
  get: () => family.value !== '',
  set: (on) => (family.value = on ? 'true' : ''),
})
</script>

<template>
  <span class="whose">
    <CustomerPick
      v-model="chosen"
      :placeholder="t('parts.customer.any')"
      class="pick"
      bare
      small
      :label="t('parts.customer.of')"
    />
    <ElCheckbox v-if="grouped" v-model="whole">{{ t('parts.customer.family') }}</ElCheckbox>
  </span>
</template>

<style scoped>
.whose {
  display: inline-flex;
  gap: 8px;
  align-items: center;
}
.pick {
  width: 190px;
  margin: 0;
}
</style>
