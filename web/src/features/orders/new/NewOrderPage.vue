<script setup lang="ts">
/** An order from one or more quotes: what will happen is shown before it does. */
import { useQueryClient } from '@tanstack/vue-query'
import { until } from '@vueuse/core'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import { me } from '@/api/session'
import { useAct } from '@/kit/act/useAct'
import { day, figure, isNothing } from '@/kit/format/format'
import { useKeys } from '@/kit/keys/useKeys'
import CheckStrip from '@/kit/show/CheckStrip.vue'
import LoadState from '@/kit/show/LoadState.vue'
import SumBar, { type Sum } from '@/kit/show/SumBar.vue'
import { useTitle } from '@/kit/show/title'
import StandingReasons from '@/parts/customer/StandingReasons.vue'
import SheetHead from '@/parts/route/SheetHead.vue'
import { t, tn } from '@/words'
import OfferTable from './OfferTable.vue'
import OrderTerms from './OrderTerms.vue'
import { checksOf } from './orderChecks'
import { useNewOrder } from './useNewOrder'

const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const offers = computed(() =>
  String(route.query.from ?? '')
    .split(',')
    .map(Number)
    .filter((id) => Number.isInteger(id) && id > 0),
)
const answer = Number(route.query.answer) || 0
const mail = Number(route.query.mail) || 0
const order = useNewOrder(me.value?.id ?? 0, offers, answer, mail)
const base = computed(() => order.base.data.value)
const plan = order.plan
useTitle(() => base.value && t('orders.new.titleOf', { customer: base.value.customer }))

/** Another quote of the customer goes into the same order; or stays out. */
const withOffers = (ids: number[]) =>
  router.replace({ query: { ...route.query, from: ids.join(',') } })
const joins = computed(() => base.value?.joins ?? [])
const asked = ref('')
const open = ref('')
const checks = computed(() => (plan.value ? checksOf(plan.value) : []))
const deals = computed(() => [
  ...new Set((base.value?.offers ?? []).map((offer) => offer.deal).filter(Boolean)),
])
const beyond = computed(() => plan.value?.beyond && !order.form.value.beyond)
/** Why the order cannot be written yet; nothing where it can. */
const hindrance = computed(() => {
  if (order.unread.value) return t('orders.new.unread')
  if (!plan.value) return t('orders.new.chooseLine')
  if (order.fault.value) return order.fault.value.message
  if (beyond.value) return t('orders.new.sayBeyond')
  return deals.value.length && !order.form.value.close ? t('desk.accept.choose') : ''
})

const PATIENCE_MS = 5000
const { busy, run } = useAct((fault) => {
  if (fault.status === 409) void order.base.refetch()
})
const write = () =>
  run(async () => {
    // What was typed last counts as well: its sums are waited for.
    await until(order.stale).toBe(false, { timeout: PATIENCE_MS })
    asked.value = hindrance.value
    if (hindrance.value || order.stale.value || !plan.value) return
    const made = await take(api.POST('/api/orders', { body: order.body(plan.value) }))
    order.clear()
    // First away: what this page asks of the offers is refused now that they are ordered.
    await router.replace(`/orders/${made.id}`)
    void client.invalidateQueries()
  })
watch(hindrance, (now) => (asked.value = asked.value && now))

const sums = computed<Sum[]>(() => {
  const p = plan.value
  const shown = (value: string | undefined) => (value === undefined ? '—' : figure(value))
  const some = (label: string, value: string | undefined) =>
    value === undefined || isNothing(value) ? [] : [{ label, value: figure(value) }]
  return [
    { label: t('desk.sums.lines'), value: shown(p?.lines_net) },
    ...some(t('desk.sums.discount'), p?.document_discount),
    ...(p?.charges ?? []).map((row) => ({ label: row.name, value: figure(row.amount) })),
    { label: t('desk.sums.net'), value: shown(p?.net) },
    { label: t('desk.sums.tax'), value: shown(p?.tax_total) },
    {
      label: t('desk.sums.payable', { currency: base.value?.currency ?? '' }),
      value: shown(p?.payable),
      main: true,
    },
  ]
})
useKeys(() => ({
  title: t('orders.new.keys.title'),
  keys: [
    { keys: '↑, ↓, Enter', does: t('regulars.keys.next') },
    { keys: '=', does: t('orders.new.keys.left') },
    { keys: 'Alt ↓', does: t('orders.new.keys.where') },
    { keys: 'Ctrl Enter', does: t('desk.accept.act'), act: () => void write(), whileTyping: true },
  ],
}))
const tables = useTemplateRef('tables')
watch(
  () => base.value !== undefined,
  (there) => there && void nextTick(() => tables.value?.[0]?.start()),
  { immediate: true },
)
function restOf(revision: number): string {
  const left = plan.value?.offers.find((offer) => offer.revision_id === revision)?.left
  if (left === undefined) return t('orders.new.leftOut')
  return left ? tn('orders.new.staysOpen', left) : t('orders.new.nothingLeft')
}
</script>

<template>
  <div class="page with-bar">
    <LoadState
      v-if="!base"
      :error="order.base.error.value"
      :rows="10"
      @again="order.base.refetch()"
    />
    <template v-else>
      <SheetHead :title="base.customer">
        {{ t('orders.new.from_') }}
        <template v-for="(offer, n) in base.offers" :key="offer.revision_id"
          ><template v-if="n">, </template
          ><RouterLink :to="`/quotes/${offer.revision_id}`">{{
            t('orders.quote', { number: offer.number })
          }}</RouterLink></template
        >
        · {{ base.terms }}
        <template v-if="order.whence.value">· {{ order.whence.value }}</template>
      </SheetHead>
      <CheckStrip v-model:open="open" :checks="checks">
        <template #standing>
          <StandingReasons v-if="plan" :standing="plan.standing" />
          <p v-if="plan?.standing.verdict === 'halt'" class="soft">{{ t('orders.new.halt') }}</p>
        </template>
        <template #promise
          ><p>{{ t('orders.new.promiseHint') }}</p></template
        >
        <template #limits
          ><p>{{ t('orders.new.beyondLimits') }}</p></template
        >
        <template #rest
          ><p>{{ t('orders.new.restHint') }}</p></template
        >
      </CheckStrip>
      <OrderTerms
        :plan="base"
        :terms="order.terms.value"
        :form="order.form.value"
        :deals="deals"
        :missing="asked !== '' && deals.length > 0 && !order.form.value.close"
        @change="(given) => (order.form.value = { ...order.form.value, ...given })"
      />
      <section
        v-for="offer in base.offers"
        :key="offer.revision_id"
        class="card"
        :aria-label="offer.number"
      >
        <header>
          <h2>{{ t('orders.quote', { number: offer.number }) }}</h2>
          <span class="soft rest"
            >{{ t('orders.new.validUntil', { day: day(offer.valid_until) }) }} ·
            {{ restOf(offer.revision_id) }}</span
          >
          <ElButton
            v-if="base.offers.length > 1"
            size="small"
            text
            @click="withOffers(offers.filter((id) => id !== offer.revision_id))"
            >{{ t('orders.new.leaveOut') }}</ElButton
          >
        </header>
        <p v-if="offer.terms !== base.terms" class="soft">
          {{ t('orders.new.otherTerms', { terms: offer.terms, first: base.terms }) }}
        </p>
        <OfferTable
          ref="tables"
          :offer="offer"
          :units="base.unit_names"
          :places="base.addresses"
          :depots="base.promises.depots"
          :rows-of="order.rowsOf"
          :reason-of="order.reasonOf"
          :answers="order.answers.value"
          :stale="order.stale.value"
          @type="(line, split, given) => order.type(offer.revision_id, line, split, given)"
          @divide="(key) => order.divide(offer.revision_id, key)"
          @join="(key, split) => order.join(offer.revision_id, key, split)"
          @instead="(line, original) => order.instead(offer.revision_id, line, original)"
        />
      </section>
      <p v-if="joins.length" class="chips joins">
        <span class="soft">{{ t('orders.new.joins') }}</span>
        <ElButton
          v-for="each in joins"
          :key="each.revision_id"
          size="small"
          @click="withOffers([...offers, each.revision_id])"
          >{{
            t('orders.new.join_', { number: each.number, payable: figure(each.payable) })
          }}</ElButton
        >
      </p>
      <p v-if="plan?.beyond" class="card beyond">
        <ElCheckbox
          :model-value="order.form.value.beyond"
          @update:model-value="
            (now) => (order.form.value = { ...order.form.value, beyond: Boolean(now) })
          "
          >{{ t('orders.new.meansBeyond') }}</ElCheckbox
        >
      </p>
      <SumBar :sums="sums" :stale="order.stale.value">
        <span v-if="asked" class="hindrance" role="alert">{{ asked }}</span>
        <ElButton class="step" :loading="busy" @click="write">{{ t('desk.accept.act') }}</ElButton>
      </SumBar>
    </template>
  </div>
</template>

<style scoped>
.card,
.joins {
  margin-top: 10px;
}
.joins {
  align-items: center;
}
.beyond {
  padding: 6px 14px;
}
.rest {
  flex: 1;
  margin-left: 12px;
}
.hindrance {
  max-width: 46ch;
  font-weight: 600;
}
</style>
