<script setup lang="ts">
/** A line that is short: goods are asked for, and what was said. */
import { computed } from 'vue'
import { day, figure } from '@/kit/format/format'
import { maybe, t } from '@/words'
import type { Order } from './queries'

const props = defineProps<{ order: Order; line: Order['lines'][number]; busy: boolean }>()
const emit = defineEmits<{ ask: [line: number] }>()
const asked = computed(() => props.order.goods.filter((each) => each.line === props.line.position))
const open = computed(() => asked.value.some((each) => OPEN.includes(each.state)))
const OPEN = ['waiting', 'under_way', 'asked']
const theirs = computed(() => ['taken', 'held'].includes(props.order.handover?.state ?? ''))
const may = computed(
  () => props.order.may_replenish && theirs.value && props.line.missing !== null && !open.value,
)
const said = (each: Order['goods'][number]) =>
  each.state === 'answered'
    ? t('orders.goods.comes', { receipt: each.receipt, day: day(each.due_on) })
    : (maybe(`orders.goods.${each.state}`, { why: each.said }) ?? each.state)
</script>

<template>
  <small v-for="(each, n) in asked" :key="n" class="goods">
    {{ t('orders.goods.head', { quantity: figure(each.quantity) }) }} {{ said(each) }}
  </small>
  <ElButton v-if="may" size="small" :disabled="busy" @click="emit('ask', line.id)">{{
    t('orders.goods.ask', { quantity: figure(line.missing) })
  }}</ElButton>
</template>

<style scoped>
.goods {
  display: block;
}
</style>
