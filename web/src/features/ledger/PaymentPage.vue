<script setup lang="ts">
/** A payment: which invoices it settles, how long after each it came, and what is left on account. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, take } from '@/api/client'
import { day, figure, isNothing } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { useTitle } from '@/kit/show/title'
import SheetHead from '@/parts/route/SheetHead.vue'
import { t, tn } from '@/words'

const route = useRoute()
const id = Number(route.params.id)
const { data, error, refetch } = useQuery({
  queryKey: ['payment', id],
  queryFn: () =>
    take(api.GET('/api/payments/{payment_id}', { params: { path: { payment_id: id } } })),
})
const title = computed(() => data.value && `${t('customers.documents.payment')} ${data.value.number}`) // prettier-ignore
useTitle(() => title.value)
</script>

<template>
  <div class="page">
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <template v-else>
      <SheetHead :title="title ?? ''">
        <RouterLink :to="`/customers/${data.customer_id}`">{{ data.customer }}</RouterLink>
        · {{ t('ledger.of', { day: day(data.on) }) }} · {{ figure(data.amount) }}
        {{ data.currency }}
      </SheetHead>
      <section class="card scroll">
        <header>
          <h2>{{ t('ledger.settles') }}</h2>
          <span class="soft">{{ data.currency }}</span>
        </header>
        <EmptyState v-if="!data.settles.length" :title="t('ledger.settlesNone')">{{
          t('ledger.settlesNoneHint')
        }}</EmptyState>
        <table v-else class="list">
          <thead>
            <tr>
              <th>{{ t('customers.items.invoice') }}</th>
              <th>{{ t('ledger.columns.of') }}</th>
              <th>{{ t('customers.items.due') }}</th>
              <th class="num">{{ t('ledger.sums.gross') }}</th>
              <th class="num">{{ t('ledger.columns.settles') }}</th>
              <th class="num">{{ t('ledger.sums.discount') }}</th>
              <th>{{ t('ledger.columns.after') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="each in data.settles" :key="each.id">
              <td>
                <RouterLink :to="`/invoices/${each.id}`">{{ each.number }}</RouterLink>
              </td>
              <td>{{ day(each.on) }}</td>
              <td>{{ day(each.due_on) }}</td>
              <td class="num">{{ figure(each.gross) }}</td>
              <td class="num">{{ figure(each.amount) }}</td>
              <td class="num soft">
                {{ isNothing(each.discount) ? '–' : figure(each.discount) }}
              </td>
              <td>{{ tn('customers.days', each.days) }}</td>
            </tr>
          </tbody>
          <tfoot>
            <tr>
              <th colspan="4">{{ t('ledger.unused') }}</th>
              <td class="num">{{ figure(data.unused) }}</td>
              <td colspan="2" />
            </tr>
          </tfoot>
        </table>
      </section>
    </template>
  </div>
</template>
