<script setup lang="ts">
/** These lines for another customer, at that customer's prices. */
import { ref } from 'vue'
import CustomerPick from '@/parts/customer/CustomerPick.vue'
import StepPanel from '@/kit/step/StepPanel.vue'

defineProps<{ busy: boolean }>()
const emit = defineEmits<{ go: [customer: number]; close: [] }>()
const customer = ref<number | null>(null)
</script>

<template>
  <StepPanel
    title="Copy for another customer"
    @close="$emit('close')"
    @go="customer && emit('go', customer)"
  >
    <div class="field who">
      <label for="copy-for">Customer</label>
      <CustomerPick id="copy-for" v-model="customer" />
    </div>
    <p class="soft">
      Priced for them as of today. Prices agreed by hand and discounts stay behind.
    </p>
    <button class="btn act" :disabled="busy || !customer">Start the copy</button>
  </StepPanel>
</template>

<style scoped>
.who {
  flex: 0 1 320px;
}
</style>
