<script setup lang="ts">
/** What else could be done about an order's line that is short or late. */
import { computed, toRef } from 'vue'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'
import { useOrderPromises } from './useOrderPromises'
import type { Proposal } from './usePromises'
import { proposalOf } from './words'

const props = defineProps<{ order: number; line: number; item: number }>()
const { data, byLine, error, refetch } = useOrderPromises(toRef(props, 'order'))
/** Another item is looked at; another depot is asked for by a change of the order. */
function goes(each: Proposal): string {
  if (each.item_id) return `/items/${each.item_id}`
  return each.depot_id
    ? `/orders/${props.order}?line=${props.line}&depot=${each.depot_id}#change`
    : ''
}
const ways = computed(() => byLine.value.get(props.line)?.proposals ?? [])
</script>

<template>
  <LoadState v-if="!data" :error="error" :rows="1" @again="refetch()" />
  <ul v-else class="ways" :aria-label="t('promise.else.label')">
    <li v-for="(each, n) in ways" :key="n">
      <RouterLink v-if="goes(each)" :to="goes(each)">{{ proposalOf(each) }}</RouterLink>
      <template v-else>{{ proposalOf(each) }}</template>
    </li>
    <li v-if="!ways.length" class="soft">{{ t('promise.else.none') }}</li>
    <li>
      <RouterLink :to="`/items/${item}`">{{ t('promise.else.move') }}</RouterLink>
    </li>
  </ul>
</template>

<style scoped>
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 0;
  margin: 0;
  padding: 0;
  list-style: none;
}
.ways li:not(:last-child)::after {
  content: '·';
  margin: 0 8px;
  color: var(--ink-2);
}
</style>
