<script setup lang="ts">
/** The deals of a customer. */
import { useRouter } from 'vue-router'
import { day, figure } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import { t } from '@/words'
import type { Customer } from './queries'

defineProps<{ customer: Customer }>()
const router = useRouter()
</script>

<template>
  <header>
    <h2>{{ t('app.places.deals') }}</h2>
  </header>
  <EmptyState v-if="!customer.deals.length" :title="t('customers.deals.none')">
    <RouterLink :to="`/deals/new?customer=${customer.id}`">{{
      t('customers.deals.first')
    }}</RouterLink>
  </EmptyState>
  <div v-else class="long" tabindex="0" role="region" :aria-label="t('app.places.deals')">
    <table class="list">
      <tbody>
        <tr
          v-for="deal in customer.deals"
          :key="deal.id"
          class="goes"
          @click="router.push(`/deals/${deal.id}`)"
        >
          <td>
            <RouterLink class="whole" :to="`/deals/${deal.id}`" @click.stop>{{
              deal.title
            }}</RouterLink>
          </td>
          <td>{{ deal.stage_name }}</td>
          <td :class="{ late: deal.overdue }">{{ day(deal.decision_on) }}</td>
          <td class="num">{{ figure(deal.amount) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.long {
  max-height: 264px;
  overflow: auto;
}
</style>
