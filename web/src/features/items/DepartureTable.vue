<script setup lang="ts">
/** The same as a table: available to promise by day, of each receipt and cumulative. */
import type { Shapes } from '@/api/client'
import { day, figure } from '@/kit/format/format'
import { t } from '@/words'

defineProps<{ plan: Shapes['DepotPlan']; unit: string }>()
</script>

<template>
  <section class="card scroll">
    <table class="list">
      <thead>
        <tr>
          <th>{{ t('promise.page.columns.on') }}</th>
          <th>{{ t('promise.page.columns.what') }}</th>
          <th class="num">{{ t('promise.page.columns.quantity') }} ({{ unit }})</th>
          <th>{{ t('promise.page.columns.promised') }}</th>
          <th class="num">{{ t('promise.page.columns.free') }}</th>
          <th class="num">{{ t('promise.page.columns.byThen') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, n) in plan.departures" :key="row.on">
          <td>{{ day(row.on) }}</td>
          <td>
            {{
              n
                ? t('promise.page.receipt', {
                    number: row.receipt,
                    sure: t(row.sure ? 'promise.page.sure' : 'promise.page.notSure'),
                  })
                : t('promise.page.onHand', { depot: plan.depot })
            }}
          </td>
          <td class="num">{{ figure(row.quantity) }}</td>
          <td>
            <span v-for="(rider, k) in row.riders" :key="k" class="rider">
              <RouterLink v-if="rider.order_id" :to="`/orders/${rider.order_id}`">{{
                rider.name
              }}</RouterLink>
              <template v-else>{{ rider.name || t('promise.page.someone') }}</template>
              {{ figure(rider.quantity) }}
            </span>
          </td>
          <td class="num">{{ figure(row.free) }}</td>
          <td class="num">
            <b>{{ figure(row.by_then) }}</b>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.rider + .rider::before {
  content: ' · ';
}
</style>
