<script setup lang="ts">
/** A new entry: with whom, then what. */
import { computed, ref } from 'vue'
import CustomerPick from '@/parts/customer/CustomerPick.vue'
import ActivityForm from '@/parts/diary/ActivityForm.vue'
import { t } from '@/words'

defineProps<{ on: string }>()
const emit = defineEmits<{ added: [day: string]; close: [] }>()
const customer = ref<number | null>(null)
const about = computed(() => ({ deal_id: null, customer_id: customer.value }))
</script>

<template>
  <section class="card adding" @keydown.esc="emit('close')">
    <CustomerPick
      v-model="customer"
      class="who"
      bare
      :label="t('diary.page.about')"
      :placeholder="t('diary.page.about')"
    />
    <ActivityForm
      v-if="customer !== null"
      :about="about"
      :on="on"
      next
      @added="(day) => emit('added', day)"
    />
  </section>
</template>

<style scoped>
.adding {
  margin-bottom: 12px;
}
.who {
  width: 300px;
  margin-bottom: 10px;
}
</style>
