<script setup lang="ts">
/** These lines for another customer, at that customer's prices. */
import { ref } from 'vue'
import StepPanel from '@/kit/step/StepPanel.vue'
import CustomerPick from '@/parts/customer/CustomerPick.vue'
import { t } from '@/words'

defineProps<{ busy: boolean }>()
const emit = defineEmits<{ go: [customer: number]; close: [] }>()
const customer = ref<number | null>(null)
</script>

<template>
  <StepPanel
    :title="t('desk.copy.title')"
    @close="emit('close')"
    @go="customer && emit('go', customer)"
  >
    <CustomerPick v-model="customer" class="who" />
    <p class="soft">{{ t('desk.copy.what') }}</p>
    <ElButton type="primary" native-type="submit" :loading="busy" :disabled="!customer">{{
      t('desk.copy.act')
    }}</ElButton>
  </StepPanel>
</template>

<style scoped>
.who {
  flex: 0 1 320px;
}
</style>
