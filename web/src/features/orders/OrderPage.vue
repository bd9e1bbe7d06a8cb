<script setup lang="ts">
/** An order: its Route, the handover, what the back office says, its locked lines. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, take } from '@/api/client'
import { me } from '@/api/session'
import { useAct } from '@/kit/act/useAct'
import Menu, { type MenuRow } from '@/kit/menu/Menu.vue'
import { day, figure, isNothing, moment } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import SumBar, { type Sum } from '@/kit/show/SumBar.vue'
import { useTitle } from '@/kit/show/title'
import ReasonPanel from '@/kit/step/ReasonPanel.vue'
import StandingStrip from '@/parts/customer/StandingStrip.vue'
import SheetHead from '@/parts/route/SheetHead.vue'
import { maybe, t } from '@/words'
import HandoverCard from './HandoverCard.vue'
import OrderLines from './OrderLines.vue'
import SignOffCard from './SignOffCard.vue'
import { orderKey, orderQuery, type Order } from './queries'

const route = useRoute()
const client = useQueryClient()
const id = Number(route.params.id)
const { data, error, refetch } = useQuery(orderQuery(id))
useTitle(() => data.value && `${data.value.number}, ${data.value.customer}`)
const { busy, run } = useAct((fault) => {
  if (fault.status === 409) void refetch()
})
const sums = computed<Sum[]>(() => {
  const o = data.value
  if (!o) return []
  const some = (label: string, value: string) =>
    isNothing(value) ? [] : [{ label, value: figure(value) }]
  return [
    { label: t('desk.sums.lines'), value: figure(o.lines_net) },
    {
      label: t('desk.sums.discount'),
      value: isNothing(o.document_discount) ? '—' : `−${figure(o.document_discount)}`,
    },
    ...o.charges.map((row) => ({ label: row.name, value: figure(row.amount) })),
    { label: t('desk.sums.net'), value: figure(o.net) },
    { label: t('desk.sums.tax'), value: figure(o.tax_total) },
    ...some(t('desk.sums.rounding'), o.payable_rounding),
    {
      label: t('desk.sums.payable', { currency: o.currency }),
      value: figure(o.payable),
      main: true,
    },
  ]
})
/** An act's answer stands: a question that was asked before it is not heard any more. */
const act = (ask: () => Promise<Order>) =>
  run(async () => {
    const answer = await ask()
    await client.cancelQueries({ queryKey: orderKey(id) })
    client.setQueryData(orderKey(id), answer)
    void client.invalidateQueries({ queryKey: ['orders'] })
  })
const handOver = (order: Order) =>
  act(() =>
    take(
      api.POST('/api/orders/{order_id}/handover', {
        params: { path: { order_id: id } },
        body: { version: order.version, seen: seenOf(order) },
      }),
    ),
  )
const seenOf = (order: Order) => ({ mark: order.mark, payable: order.payable })
const ask = (order: Order, reason: string) =>
  act(() =>
    take(
      api.POST('/api/orders/{order_id}/sign-off', {
        params: { path: { order_id: id } },
        body: { reason, seen: seenOf(order) },
      }),
    ),
  )
const answer = (order: Order, granted: boolean, comment: string) =>
  act(() =>
    take(
      api.POST('/api/order-sign-offs/{sign_off_id}', {
        params: { path: { sign_off_id: order.sign_off?.id ?? 0 } },
        body: { granted, comment, seen: seenOf(order) },
      }),
    ),
  )
/** On Halt an order waits until somebody has signed it off. */
const waits = computed(() => data.value?.halted && data.value.sign_off?.answer !== 'granted')
/** The confirmation on both papers, and as a file; a cancelled order is not confirmed. */
const papers = computed<MenuRow[]>(() => [
  ...(data.value?.cancelled_at
    ? []
    : [
        { label: t('orders.papers.short'), href: `/api/orders/${id}/pdf` },
        { label: t('orders.papers.detailed'), href: `/api/orders/${id}/pdf?paper=detailed` },
      ]),
  { label: t('orders.papers.ubl'), href: `/api/orders/${id}/ubl` },
])
const cancelling = ref(false)
const cancel = (order: Order, reason: string) =>
  act(async () => {
    const body = { version: order.version, reason }
    const params = { path: { order_id: id } }
    const answer = await take(api.POST('/api/orders/{order_id}/cancel', { params, body }))
    cancelling.value = false
    void client.invalidateQueries()
    return answer
  })
/** Today's prices in place of the locked ones, as they were seen. */
const priceAgain = (order: Order, seen: { mark: string; payable: string }) =>
  act(async () => {
    const body = { version: order.version, seen }
    const params = { path: { order_id: id } }
    const answer = await take(api.POST('/api/orders/{order_id}/price-again', { params, body }))
    void client.invalidateQueries()
    return answer
  })
const again = (order: Order) =>
  act(() =>
    take(
      api.POST('/api/handovers/{handover_id}/again', {
        params: { path: { handover_id: order.handover?.id ?? 0 } },
        body: { version: order.handover?.version ?? 0 },
      }),
    ),
  )
</script>

<template>
  <div class="page with-bar">
    <LoadState v-if="!data" :error="error" :rows="12" @again="refetch()" />
    <template v-else>
      <SheetHead :title="data.customer" :stops="data.route">
        {{ t('orders.order', { number: data.number }) }} ·
        <b>{{ maybe(`states.order.${data.state}`) }}</b> ·
        {{ t('orders.from') }}
        <template v-for="(quote, n) in data.quotes" :key="quote.revision_id"
          ><template v-if="n">, </template
          ><RouterLink v-if="me?.sells" :to="`/quotes/${quote.revision_id}`">{{
            t('orders.quote', { number: quote.number })
          }}</RouterLink
          ><template v-else>{{ t('orders.quote', { number: quote.number }) }}</template
          ><template v-if="quote.left"> {{ t('orders.more') }}</template></template
        >
        ·
        {{ t('orders.acceptedOn', { day: day(data.accepted_on) }) }}
        <template v-if="data.buyer_reference">
          · {{ t('orders.theirNumber', { number: data.buyer_reference }) }}</template
        >
        <template #side>
          <ElButton
            v-if="!data.handover && !data.cancelled_at && me?.sells"
            size="small"
            @click="cancelling = true"
            >{{ t('orders.cancel.start') }}</ElButton
          >
          <Menu :rows="papers" :label="t('orders.papers.label')" text />
          <RouterLink
            v-if="data.deal_id && me?.sells"
            class="soft"
            :to="`/deals/${data.deal_id}`"
            >{{ data.deal }}</RouterLink
          >
        </template>
      </SheetHead>
      <p v-if="data.cancelled_at" class="fault gone">
        {{
          t('orders.cancel.said', {
            who: data.cancelled_by,
            at: moment(data.cancelled_at),
            reason: data.cancel_reason,
          })
        }}
      </p>
      <StandingStrip :standing="data.standing" :to="`/customers/${data.customer_id}`" />
      <SignOffCard
        v-if="data.halted"
        :order="data"
        :may-ask="Boolean(me?.sells)"
        :busy="busy"
        @ask="(reason) => ask(data!, reason)"
        @answer="(granted, comment) => answer(data!, granted, comment)"
      />
      <div class="columns">
        <OrderLines :order="data" :busy="busy" @again="(seen) => priceAgain(data!, seen)" />
        <HandoverCard v-if="!data.cancelled_at" :order="data" :busy="busy" @again="again(data)" />
      </div>
      <SumBar :sums="sums">
        <ElButton
          v-if="!data.handover && !data.cancelled_at && me?.sells"
          class="step"
          :loading="busy"
          :disabled="waits"
          :title="waits ? t('orders.signOff.waits') : undefined"
          @click="handOver(data)"
        >
          {{ t('orders.handOver') }}
        </ElButton>
        <span v-else class="state">{{ maybe(`states.order.${data.state}`) }}</span>
      </SumBar>
      <ReasonPanel
        v-if="cancelling"
        :title="t('orders.cancel.title', { number: data.number })"
        :act="t('orders.cancel.act')"
        :label="t('orders.cancel.why')"
        :busy="busy"
        @go="(reason) => cancel(data!, reason)"
        @close="cancelling = false"
      />
    </template>
  </div>
</template>

<style scoped>
.columns {
  grid-template-columns: minmax(0, 1.9fr) minmax(0, 1fr);
}
@media (max-width: 980px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
.gone {
  margin: 8px 0;
}
.state {
  font-size: 17px;
  font-weight: 700;
}
</style>
