<script setup lang="ts">
/** A delivery: what left for the customer, and how much of what was ordered. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, take } from '@/api/client'
import { day, figure, units } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { useTitle } from '@/kit/show/title'
import SheetHead from '@/parts/route/SheetHead.vue'
import { t } from '@/words'

const route = useRoute()
const id = Number(route.params.id)
const { data, error, refetch } = useQuery({
  queryKey: ['delivery', id],
  queryFn: () =>
    take(api.GET('/api/deliveries/{delivery_id}', { params: { path: { delivery_id: id } } })),
})
const title = computed(() => data.value && `${t('customers.documents.delivery')} ${data.value.number}`) // prettier-ignore
useTitle(() => title.value)
const place = computed(() => {
  const at = data.value?.address
  return at ? [at.label, at.street, `${at.postcode} ${at.town}`].filter(Boolean).join(', ') : ''
})
</script>

<template>
  <div class="page">
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <template v-else>
      <SheetHead
        :title="title ?? ''"
        :stops="data.route"
        :whole="data.order_id ? `/route/order/${data.order_id}` : undefined"
      >
        <RouterLink :to="`/customers/${data.customer_id}`">{{ data.customer }}</RouterLink>
        · {{ t('ledger.left', { day: day(data.on) }) }} ·
        <RouterLink :to="`/orders/${data.order_id}`">{{ data.order }}</RouterLink>
        <template v-if="place"> · {{ place }}</template>
      </SheetHead>
      <section class="card scroll">
        <table class="list">
          <thead>
            <tr>
              <th>{{ t('ledger.columns.text') }}</th>
              <th class="num">{{ t('ledger.columns.left') }}</th>
              <th class="num">{{ t('ledger.columns.ordered') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(line, n) in data.lines" :key="n">
              <td>
                <RouterLink :to="`/items/${line.item_id}?customer=${data.customer_id}`">{{
                  line.text
                }}</RouterLink>
                <small class="soft"> {{ line.item }}</small>
              </td>
              <td class="num">
                {{ units(line.quantity, data.unit_names[line.unit] ?? line.unit) }}
              </td>
              <td class="num soft">{{ figure(line.ordered) }}</td>
            </tr>
          </tbody>
        </table>
      </section>
    </template>
  </div>
</template>
