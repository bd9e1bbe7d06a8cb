<script setup lang="ts">
/** A framework agreement: what was committed, how it goes, what is planned, every order against it. */
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { day, figure, units } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { useTitle } from '@/kit/show/title'
import SheetHead from '@/parts/route/SheetHead.vue'
import { t } from '@/words'
import CallOffPanel from './CallOffPanel.vue'
import CallOffs from './CallOffs.vue'
import PaceChart from './PaceChart.vue'
import PlanCard from './PlanCard.vue'
import { useAgreement } from './queries'

const id = Number(useRoute().params.id)
const { data, error, refetch } = useAgreement(id)
useTitle(() => data.value && t('ahead.agreement.title', { number: data.value.number }))
const calling = ref(false)
const many = (quantity: string) =>
  data.value?.in_money
    ? `${figure(quantity)} ${data.value.unit_name}`
    : units(quantity, data.value?.unit_name ?? '')
const goods = (quantity: string) => units(quantity, data.value?.price_unit ?? '')
const price = computed(() => {
  const d = data.value
  if (!d) return ''
  const what = d.per === '1' ? d.price_unit : units(d.per, d.price_unit)
  return t('ahead.agreement.price', { price: figure(d.price), currency: d.currency, what })
})
const figures = computed(() => {
  const d = data.value
  if (!d) return []
  return [
    { label: t('ahead.agreement.committed'), value: many(d.quantity) },
    { label: t('ahead.agreement.calledOff'), value: many(d.called_off) },
    { label: t('ahead.agreement.delivered'), value: goods(d.course.delivered) },
    { label: t('ahead.agreement.invoiced'), value: goods(d.course.invoiced) },
    { label: t('ahead.agreement.left'), value: many(d.left) },
    ...(d.by_end ? [{ label: t('ahead.agreement.byEnd'), value: many(d.by_end), note: t(d.plan.length ? 'ahead.agreement.asPlanned' : 'ahead.agreement.inEnd') }] : []), // prettier-ignore
  ]
})
const open = computed(() => data.value && !['used', 'over'].includes(data.value.state))
</script>

<template>
  <div class="page">
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <template v-else>
      <SheetHead :title="t('ahead.agreement.title', { number: data.number })">
        <RouterLink :to="`/customers/${data.customer_id}`">{{ data.customer }}</RouterLink> ·
        <RouterLink :to="`/items/${data.item_id}?customer=${data.customer_id}`"
          >{{ data.item_code }} {{ data.item }}</RouterLink
        >
        · {{ price }} ·
        {{ t('customers.agreements.days', { from: day(data.valid_from), to: day(data.valid_to) }) }}
        <template #side>
          <ElButton v-if="open" type="primary" @click="calling = true">{{
            t('ahead.agreement.callOff')
          }}</ElButton>
        </template>
      </SheetHead>
      <p v-if="data.misses" class="misses" role="status">
        {{
          data.state === 'behind'
            ? t('ahead.agreement.misses', { due: data.due_percent, percent: data.percent })
            : t('ahead.agreement.shortPlan', {
                byEnd: many(data.by_end ?? ''),
                committed: many(data.quantity),
              })
        }}
      </p>
      <dl class="figures card">
        <div v-for="each in figures" :key="each.label">
          <dt>{{ each.label }}</dt>
          <dd>
            {{ each.value }} <small v-if="each.note" class="soft">{{ each.note }}</small>
          </dd>
        </div>
      </dl>
      <div class="columns">
        <section class="card" :aria-label="t('ahead.agreement.pace')">
          <header>
            <h2>{{ t('ahead.agreement.pace') }}</h2>
            <b class="soft">{{ t(`customers.agreements.states.${data.state}` as never) }}</b>
          </header>
          <PaceChart :agreement="data" />
        </section>
        <PlanCard :agreement="data" />
      </div>
      <section class="card scroll orders" :aria-label="t('ahead.agreement.orders')">
        <header>
          <h2>{{ t('ahead.agreement.orders') }}</h2>
          <span v-if="data.course.count > data.course.rows.length" class="soft">{{
            t('ahead.agreement.ofMany', {
              shown: data.course.rows.length,
              count: data.course.count,
            })
          }}</span>
        </header>
        <EmptyState v-if="!data.course.rows.length" :title="t('ahead.agreement.ordersNone')">{{
          t('ahead.agreement.ordersNoneHint')
        }}</EmptyState>
        <CallOffs v-else :agreement="data" />
      </section>
      <CallOffPanel v-if="calling" :agreement="data" @close="calling = false" />
    </template>
  </div>
</template>

<style scoped>
/* No sums at the foot here: a panel stands on the edge. */
.page {
  --bar-height: 0px;
}
.misses {
  padding: 7px 16px;
  margin: 8px 0;
  border-left: 6px solid var(--amber);
  background: var(--amber-soft);
  font-weight: 600;
}
.figures {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 34px;
  margin: 10px 0;
}
dd {
  margin: 0;
  font-size: 18px;
  font-weight: 700;
}
dd small {
  font-size: 12px;
  font-weight: 400;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  margin-bottom: 6px;
}
.orders {
  margin-top: 14px;
}
</style>
