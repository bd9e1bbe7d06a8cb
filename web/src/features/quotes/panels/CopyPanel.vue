<script setup lang="ts">
/** These lines for another customer, at that customer's prices. */
import { ref } from 'vue'
import StepPanel from '@/kit/step/StepPanel.vue'
import CustomerPick from '@/parts/customer/CustomerPick.vue'
import LikelyCustomers from '@/parts/customer/LikelyCustomers.vue'
import { t } from '@/words'

defineProps<{ busy: boolean }>()
const emit = defineEmits<{ go: [customer: number | { name: string }]; close: [] }>()
const customer = ref<number | null>(null)
/** The name of one who is not a customer yet. */
const fresh = ref('')
function go(): void {
  const name = fresh.value.trim()
  if (customer.value) emit('go', customer.value)
  else if (name) emit('go', { name })
}
function take(id: number): void {
  customer.value = id
  fresh.value = ''
}
</script>

<template>
  <StepPanel :title="t('desk.copy.title')" @close="emit('close')" @go="go">
    <CustomerPick v-model="customer" v-model:fresh="fresh" class="who" may-make />
    <LikelyCustomers v-if="!customer && fresh" class="likely" :name="fresh" @choose="take" />
    <p class="soft">{{ t('desk.copy.what') }}</p>
    <ElButton
      type="primary"
      native-type="submit"
      :loading="busy"
      :disabled="!customer && !fresh.trim()"
      >{{ t('desk.copy.act') }}</ElButton
    >
  </StepPanel>
</template>

<style scoped>
.likely {
  flex-basis: 100%;
}
.who {
  flex: 0 1 320px;
}
</style>
