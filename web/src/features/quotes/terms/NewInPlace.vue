<script setup lang="ts">
/** The form for somebody, or some place, that is not there yet; it takes the keyboard. */
import { nextTick, onMounted, useTemplateRef } from 'vue'
import type { Shapes } from '@/api/client'
import PersonForm from '@/parts/customer/PersonForm.vue'
import PlaceForm from '@/parts/customer/PlaceForm.vue'
import { t } from '@/words'

defineProps<{ what: 'person' | 'place'; quote: Shapes['QuoteOut'] }>()
defineEmits<{
  met: [person: Shapes['ContactOut']]
  found: [place: Shapes['AddressOut']]
  close: []
}>()
const card = useTemplateRef<HTMLElement>('card')
onMounted(async () => {
  await nextTick() // the list closes, and would take the keyboard back
  requestAnimationFrame(() => card.value?.querySelector('input')?.focus())
})
</script>

<template>
  <aside ref="card" class="card" @keydown.esc.prevent="$emit('close')">
    <header>
      <h2>
        {{
          t(what === 'person' ? 'terms.newPerson' : 'terms.newPlaceOf', { name: quote.customer })
        }}
      </h2>
      <ElButton text size="small" @click="$emit('close')">{{ t('kit.step.notYet') }}</ElButton>
    </header>
    <PersonForm
      v-if="what === 'person'"
      :customer="quote.customer_id"
      @done="(person) => $emit('met', person)"
    />
    <PlaceForm
      v-else
      :customer="quote.customer_id"
      :country="quote.country"
      @done="(place) => $emit('found', place)"
    />
  </aside>
</template>

<style scoped>
.card {
  margin: 8px 0;
}
</style>
