<script setup lang="ts">
/** A line whose day is another now than was promised: what to do about it, and a text for the buyer. */
import { computed } from 'vue'
import { say } from '@/kit/act/notices'
import { day } from '@/kit/format/format'
import { t } from '@/words'
import type { Order } from './queries'

const props = defineProps<{ order: Order; line: Order['lines'][number]; busy: boolean }>()
const emit = defineEmits<{ promise: [line: number] }>()
const facts = computed(() => ({
  was: day(props.line.promised_on),
  day: props.line.outlook?.leaves_on ? day(props.line.outlook.leaves_on) : '',
  item: props.line.text,
  number: props.order.number,
}))
const later = computed(
  () => (props.line.outlook?.leaves_on ?? '9') > (props.line.promised_on ?? ''),
)
const sentence = computed(() => {
  if (!facts.value.day) return t('orders.day.none', facts.value)
  return later.value ? t('orders.day.later', facts.value) : t('orders.day.sooner', facts.value)
})
async function copy(): Promise<void> {
  try {
    await navigator.clipboard.writeText(t('orders.day.text', facts.value))
    say(t('orders.day.copied'))
  } catch {
    say(t('orders.day.text', facts.value))
  }
}
</script>

<template>
  <span class="day" :class="{ later }">
    <b>{{ sentence }}</b>
    <template v-if="facts.day">
      <ElButton size="small" text @click="copy">{{ t('orders.day.copy') }}</ElButton>
      <ElButton size="small" :disabled="busy" @click="emit('promise', line.id)">{{
        t('orders.day.promise', facts)
      }}</ElButton>
    </template>
  </span>
</template>

<style scoped>
.day {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 6px;
  align-items: center;
  border-left: 4px solid var(--teal);
  padding-left: 8px;
}
.day.later {
  border-color: var(--amber);
}
</style>
