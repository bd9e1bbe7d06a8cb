<script setup lang="ts">
/** Where the rules have moved since an order's prices were locked; the difference, and then taking it. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import { figure } from '@/kit/format/format'
import SureButton from '@/kit/step/SureButton.vue'
import { t, tn } from '@/words'
import type { Order } from './queries'

const props = defineProps<{ order: Order; busy: boolean }>()
const emit = defineEmits<{ take: [seen: { mark: string; payable: string }] }>()
const { data } = useQuery({
  queryKey: computed(() => ['order-again', props.order.id, props.order.version]),
  queryFn: ({ signal }) =>
    take(
      api.GET('/api/orders/{order_id}/again', {
        params: { path: { order_id: props.order.id } },
        signal,
      }),
    ),
})
const open = ref(false)
const moved = computed(() => data.value?.rows.filter((row) => row.moved) ?? [])
const sum = computed(() =>
  t('orders.again.sum', {
    currency: data.value?.currency ?? '',
    before: figure(data.value?.payable),
    after: data.value?.payable_now ? figure(data.value.payable_now) : '—',
  }),
)
function go(): void {
  if (!data.value?.payable_now) return
  emit('take', { mark: data.value.mark, payable: data.value.payable_now })
  open.value = false
}
</script>

<template>
  <span v-if="!data?.moved" class="soft">{{
    data ? t('orders.again.none') : t('orders.locked')
  }}</span>
  <span v-else class="moved">
    <b>{{ tn('orders.again.moved', data.moved) }}</b>
    <ElButton size="small" text :aria-expanded="open" @click="open = !open">{{
      open ? t('orders.again.hide') : t('orders.again.look')
    }}</ElButton>
  </span>
  <div v-if="open && data?.moved" class="fold">
    <table class="list">
      <thead>
        <tr>
          <th>{{ t('orders.again.line') }}</th>
          <th class="num">{{ t('orders.again.locked') }}</th>
          <th class="num">{{ t('orders.again.today') }}</th>
          <th class="num">{{ t('orders.again.net') }}</th>
          <th class="num">{{ t('orders.again.today') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in moved" :key="row.position">
          <td>{{ row.item }} {{ row.text }}</td>
          <td class="num">{{ figure(row.price) }}</td>
          <td class="num">
            {{ row.price_now ? figure(row.price_now) : t('orders.again.noPrice') }}
          </td>
          <td class="num">{{ figure(row.net) }}</td>
          <td class="num">{{ row.net_now ? figure(row.net_now) : '—' }}</td>
        </tr>
      </tbody>
    </table>
    <p>{{ sum }}</p>
    <p v-if="!data.within_limits" class="fault">{{ t('orders.again.beyond') }}</p>
    <SureButton
      v-if="data.may"
      :label="t('orders.again.take')"
      :question="t('orders.again.sure')"
      :act="t('orders.again.take')"
      :disabled="busy"
      @go="go"
    />
  </div>
</template>

<style scoped>
.moved {
  display: inline-flex;
  align-items: center;
  gap: 4px;
  white-space: nowrap;
}
.fold {
  flex-basis: 100%;
  padding: 8px 12px;
}
</style>
