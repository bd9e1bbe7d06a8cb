<script setup lang="ts">
/** Every order against an agreement; and who changed what was planned. */
import { day, figure, moment } from '@/kit/format/format'
import { t } from '@/words'
import type { Agreement } from './queries'

defineProps<{ agreement: Agreement }>()
</script>

<template>
  <table class="list">
    <thead>
      <tr>
        <th>{{ t('ahead.agreement.columns.order') }}</th>
        <th>{{ t('ahead.agreement.columns.on') }}</th>
        <th>{{ t('ahead.agreement.columns.quote') }}</th>
        <th class="num">
          {{ t('ahead.agreement.columns.quantity') }} ({{ agreement.price_unit }})
        </th>
        <th class="num">{{ t('ahead.agreement.columns.delivered') }}</th>
        <th class="num">{{ t('ahead.agreement.columns.invoiced') }}</th>
        <th class="num">{{ t('ahead.agreement.columns.amount') }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in agreement.course.rows" :key="row.order_id" :class="{ gone: row.cancelled }">
        <td>
          <RouterLink :to="`/orders/${row.order_id}`">{{ row.order }}</RouterLink>
          <small v-if="row.cancelled" class="soft">{{ t('ahead.agreement.cancelled') }}</small>
        </td>
        <td>{{ day(row.on) }}</td>
        <td>
          <RouterLink :to="`/quotes/${row.revision_id}`">{{ row.quote }}</RouterLink>
        </td>
        <td class="num">{{ figure(row.quantity) }}</td>
        <td class="num">{{ figure(row.delivered) }}</td>
        <td class="num">{{ figure(row.invoiced) }}</td>
        <td class="num">{{ figure(row.amount) }} {{ agreement.currency }}</td>
      </tr>
    </tbody>
  </table>
  <details v-if="agreement.changes.length">
    <summary>{{ t('ahead.agreement.history') }}</summary>
    <p v-for="(change, n) in agreement.changes" :key="n" class="soft">
      {{ moment(change.at) }} {{ change.who }}: {{ change.after || '—' }}
    </p>
  </details>
</template>

<style scoped>
.gone {
  color: var(--ink-2);
}
details {
  margin-top: 8px;
}
</style>
