<script setup lang="ts">
/** An invoice or a credit note: its lines, what settles it, and what is open of it, part by part. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, take } from '@/api/client'
import { me } from '@/api/session'
import { day, figure, isNothing, units } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { useTitle } from '@/kit/show/title'
import DocumentActivities from '@/parts/diary/DocumentActivities.vue'
import MailsCard from '@/parts/mail/MailsCard.vue'
import SheetHead from '@/parts/route/SheetHead.vue'
import { maybe, t, tn } from '@/words'

const route = useRoute()
const id = Number(route.params.id)
const { data, error, refetch } = useQuery({
  queryKey: ['invoice', id],
  queryFn: () =>
    take(api.GET('/api/invoices/{invoice_id}', { params: { path: { invoice_id: id } } })),
})
const kind = computed(() => (data.value?.kind === 'credit' ? 'credit' : 'invoice'))
const title = computed(() => data.value && `${t(`customers.documents.${kind.value}`)} ${data.value.number}`) // prettier-ignore
useTitle(() => title.value)
const sums = computed(() => {
  const now = data.value
  if (!now) return []
  return [
    ['net', now.net],
    ['tax', now.tax],
    ['gross', now.gross],
    ['paid', now.paid],
    ...(isNothing(now.discount) ? [] : [['discount', now.discount]]),
    ['open', now.open],
  ] as [string, string][]
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
        · {{ t('ledger.of', { day: day(data.on) }) }} ·
        {{ t('ledger.due', { day: day(data.due_on) }) }} ·
        {{ maybe(`states.invoice.${data.state}`) }}
        <template v-if="data.order_id">
          · <RouterLink :to="`/orders/${data.order_id}`">{{ data.order }}</RouterLink></template
        >
        <template #side>
          <a class="btn quiet small" :href="`/api/invoices/${id}/ubl`" download>{{
            t('ledger.ubl')
          }}</a>
        </template>
      </SheetHead>
      <div class="columns">
        <div class="stack">
          <section class="card scroll">
            <header>
              <h2>{{ t('ledger.lines') }}</h2>
              <span class="soft">{{ data.currency }}</span>
            </header>
            <EmptyState v-if="!data.lines.length" :title="t('ledger.noLines')">{{
              t('ledger.noLinesHint')
            }}</EmptyState>
            <table v-else class="list">
              <thead>
                <tr>
                  <th>{{ t('ledger.columns.text') }}</th>
                  <th class="num">{{ t('ledger.columns.quantity') }}</th>
                  <th class="num">{{ t('ledger.sums.net') }}</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="(line, n) in data.lines" :key="n">
                  <td>
                    <RouterLink
                      v-if="line.item_id"
                      :to="`/items/${line.item_id}?customer=${data.customer_id}`"
                      >{{ line.text }}</RouterLink
                    >
                    <template v-else>{{ line.text }}</template>
                    <small v-if="line.item" class="soft"> {{ line.item }}</small>
                  </td>
                  <td class="num">
                    {{
                      line.quantity
                        ? units(line.quantity, data.unit_names[line.unit] ?? line.unit)
                        : ''
                    }}
                  </td>
                  <td class="num">{{ figure(line.net) }}</td>
                </tr>
              </tbody>
            </table>
          </section>
          <DocumentActivities v-if="me?.sells" about="invoice" :record="id" />
        </div>
        <div class="stack">
          <section class="card">
            <dl>
              <template v-for="[name, amount] in sums" :key="name">
                <dt :class="name">{{ t(`ledger.sums.${name}` as never) }}</dt>
                <dd :class="name">{{ figure(amount) }}</dd>
              </template>
            </dl>
            <p v-if="data.days_late" class="late">
              {{ tn('ledger.late', data.days_late) }}
            </p>
            <p v-if="data.early" class="early">
              {{
                t('customers.items.early', {
                  percent: figure(data.early.percent),
                  amount: figure(data.early.amount),
                  until: day(data.early.until),
                })
              }}
            </p>
          </section>
          <MailsCard v-if="me?.sells" kind="invoice" :record="id" may :name="data.number" />
          <section v-if="data.dues.length" class="card">
            <h2>{{ t('ledger.parts') }}</h2>
            <table class="list">
              <tbody>
                <tr v-for="part in data.dues" :key="part.on">
                  <td>{{ day(part.on) }}</td>
                  <td class="num">
                    {{
                      isNothing(part.amount)
                        ? t('ledger.settled')
                        : t('ledger.openPart', { amount: figure(part.amount) })
                    }}
                  </td>
                  <td class="late">
                    {{ part.days_late ? tn('customers.days', part.days_late) : '' }}
                  </td>
                </tr>
              </tbody>
            </table>
          </section>
          <section v-if="data.settles.length" class="card">
            <h2>{{ t('ledger.settles') }}</h2>
            <table class="list">
              <tbody>
                <tr v-for="each in data.settles" :key="each.id">
                  <td>
                    <RouterLink :to="`/invoices/${each.id}`">{{ each.number }}</RouterLink>
                  </td>
                  <td>{{ day(each.on) }}</td>
                  <td class="num">{{ figure(each.amount) }}</td>
                </tr>
              </tbody>
            </table>
          </section>
          <section v-else class="card">
            <h2>{{ t('ledger.payments') }}</h2>
            <p v-if="!data.payments.length" class="soft">{{ t('ledger.noPayments') }}</p>
            <table v-else class="list">
              <tbody>
                <tr v-for="each in data.payments" :key="each.id">
                  <td>
                    <RouterLink
                      :to="each.kind === 'credit' ? `/invoices/${each.id}` : `/payments/${each.id}`"
                      >{{ each.number }}</RouterLink
                    >
                  </td>
                  <td>{{ day(each.on) }}</td>
                  <td class="num">{{ figure(each.amount) }}</td>
                </tr>
              </tbody>
            </table>
          </section>
        </div>
      </div>
    </template>
  </div>
</template>

<style scoped>
.stack {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
dl {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 3px 16px;
}
dd {
  text-align: right;
}
.gross,
.open {
  font-weight: 700;
}
.open {
  border-top: 1.5px solid var(--ink);
  padding-top: 3px;
}
.early {
  color: var(--teal);
  font-weight: 600;
  margin-top: 6px;
}
</style>
