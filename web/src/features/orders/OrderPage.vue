<script setup lang="ts">
/** An order: its Route, the handover, what the back office says, its locked lines. */
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { me } from '@/api/session'
import Menu, { type MenuRow } from '@/kit/menu/Menu.vue'
import { day, figure, isNothing, moment } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import SumBar, { type Sum } from '@/kit/show/SumBar.vue'
import { useTitle } from '@/kit/show/title'
import ReasonPanel from '@/kit/step/ReasonPanel.vue'
import StandingStrip from '@/parts/customer/StandingStrip.vue'
import FilesCard from '@/parts/files/FilesCard.vue'
import DocumentActivities from '@/parts/diary/DocumentActivities.vue'
import MailsCard from '@/parts/mail/MailsCard.vue'
import SheetHead from '@/parts/route/SheetHead.vue'
import { maybe, t } from '@/words'
import { whereIs } from './change'
import ChangePanel from './ChangePanel.vue'
import ChangesCard from './ChangesCard.vue'
import HandoverCard from './HandoverCard.vue'
import OrderLines from './OrderLines.vue'
import SignOffCard from './SignOffCard.vue'
import { useOrder } from './useOrder'
import { useProposed } from './useProposed'

const id = Number(useRoute().params.id)
const {
  data,
  error,
  refetch,
  busy,
  handOver,
  ask,
  answer,
  waits,
  cancelling,
  cancel,
  priceAgain,
  changing,
  canChange,
  cannotChange,
  change,
  notice,
  askGoods,
  newDay,
  stop,
  again,
} = useOrder(id)
const proposed = useProposed(() => (changing.value = true))
useTitle(() => data.value && `${data.value.number}, ${data.value.customer}`)
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
</script>

<template>
  <div class="page with-bar">
    <LoadState v-if="!data" :error="error" :rows="12" @again="refetch()" />
    <template v-else>
      <SheetHead :title="data.customer" :stops="data.route" :whole="`/route/order/${data.id}`">
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
        <template v-if="data.complete_on && !data.cancelled_at">
          · {{ t('orders.completeBy', { day: day(data.complete_on) }) }}</template
        >
        <template v-if="!data.partial_deliveries"> · {{ t('orders.whole') }}</template>
        <template #side>
          <ElButton
            v-if="canChange"
            size="small"
            :disabled="Boolean(cannotChange)"
            :title="cannotChange || undefined"
            :aria-expanded="changing"
            @click="changing = !changing"
            >{{ t('orders.change.start') }}</ElButton
          >
          <ElButton
            v-if="whereIs(data) === 'here' && !data.cancelled_at && me?.sells"
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
        v-if="data.held_back"
        :order="data"
        :may-ask="Boolean(me?.sells)"
        :busy="busy"
        @ask="(reason) => ask(data!, reason)"
        @answer="(granted, comment) => answer(data!, granted, comment)"
      />
      <ChangePanel
        v-if="changing && canChange && !cannotChange"
        id="change"
        :order="data"
        :busy="busy"
        :proposed="proposed"
        @go="change"
        @close="changing = false"
      />
      <div class="columns">
        <div class="side">
          <OrderLines
            :order="data"
            :busy="busy"
            @again="(seen) => priceAgain(data!, seen)"
            @goods="askGoods"
            @new-day="newDay"
          />
          <DocumentActivities v-if="me?.sells" about="order" :record="data.id" />
        </div>
        <div class="side">
          <ChangesCard
            v-if="data.changes.length"
            :order="data"
            :busy="busy"
            :may="Boolean(me?.sells)"
            @noticed="notice"
          />
          <HandoverCard
            v-if="!data.cancelled_at"
            :order="data"
            :busy="busy"
            @again="again(data)"
            @stop="stop"
          />
          <MailsCard
            v-if="me?.sells"
            kind="order"
            :record="data.id"
            :may="data.state !== 'cancelled'"
            :name="data.number"
          />
          <FilesCard kind="order" :record="data.id" :may="Boolean(me?.sells)" paper />
        </div>
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
.side {
  display: grid;
  gap: 12px;
  align-content: start;
}
.gone {
  margin: 8px 0;
}
.state {
  font-size: 17px;
  font-weight: 700;
}
</style>
