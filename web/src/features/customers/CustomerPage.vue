<script setup lang="ts">
/** A customer: standing, exposure, open items, how they pay, what is agreed, people, documents, what they buy. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { me } from '@/api/session'
import { figure } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { useTitle } from '@/kit/show/title'
import StandingStrip from '@/parts/customer/StandingStrip.vue'
import ActivityCard from '@/parts/diary/ActivityCard.vue'
import FilesCard from '@/parts/files/FilesCard.vue'
import SheetHead from '@/parts/route/SheetHead.vue'
import StartQuote from '@/parts/route/StartQuote.vue'
import { t, tn } from '@/words'
import AgreementsCard from './AgreementsCard.vue'
import ChangeCustomer from './ChangeCustomer.vue'
import CustomerDeals from './CustomerDeals.vue'
import CustomerDocuments from './CustomerDocuments.vue'
import DoublesHint from './DoublesHint.vue'
import ExposureCard from './ExposureCard.vue'
import GroupMembers from './GroupMembers.vue'
import HowTheyPay from './HowTheyPay.vue'
import OpenItems from './OpenItems.vue'
import PeoplePlaces from './PeoplePlaces.vue'
import StandingOrdersCard from './StandingOrdersCard.vue'
import TopItems from './TopItems.vue'
import { customerKey, customerQuery } from './queries'

/** Below what is read first. */
const MailsCard = defineAsyncComponent(() => import('@/parts/mail/MailsCard.vue'))
const route = useRoute()
const client = useQueryClient()
const id = Number(route.params.id)
const { data, error, refetch } = useQuery(customerQuery(id))
useTitle(() => data.value?.name)
const again = () => void client.invalidateQueries({ queryKey: customerKey(id), exact: true })
const changing = ref(false)
const gone = computed(() => Boolean(data.value?.retired_at))
/** A figure that leads to the documents scrolls there once they are shown. */
watch([() => route.hash, data], ([hash, now]) => {
  if (!hash || !now) return
  requestAnimationFrame(() => document.querySelector(hash)?.scrollIntoView({ block: 'start' }))
})
</script>

<template>
  <div class="page">
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <template v-else>
      <SheetHead :title="data.name">
        {{
          [data.number, data.kind, `${data.price_list} (${data.currency})`]
            .filter(Boolean)
            .join(' · ')
        }}
        <template v-if="data.parent_id">
          · {{ t('customers.memberOf') }}
          <RouterLink :to="`/customers/${data.parent_id}`">{{ data.parent }}</RouterLink></template
        >
        · {{ data.terms_words }} · {{ data.owner }}
        <template v-if="me?.sells" #side>
          <ElButton :aria-expanded="changing" @click="changing = !changing">{{
            t('customers.change.act')
          }}</ElButton>
          <RouterLink class="btn" :to="`/customers/${id}/happened`">{{
            t('customers.happened.title')
          }}</RouterLink>
          <template v-if="!gone">
            <RouterLink class="btn" :to="`/customers/${id}/regulars`">{{
              t('regulars.open')
            }}</RouterLink>
            <RouterLink class="btn" :to="`/deals/new?customer=${id}`">{{
              t('deals.new.title')
            }}</RouterLink>
            <StartQuote :customer="id" />
          </template>
        </template>
      </SheetHead>
      <p v-if="gone" class="gone" role="status">
        <template v-if="data.merged_into_id">
          {{ t('customers.retire.became') }}
          <RouterLink :to="`/customers/${data.merged_into_id}`">{{
            t('customers.retire.goThere')
          }}</RouterLink>
        </template>
        <template v-else>{{ t('customers.retire.is') }}</template>
      </p>
      <StandingStrip :standing="data.standing" opens>
        <div>
          <dt>{{ t('customers.daysToPay') }}</dt>
          <dd>
            {{ data.days_to_pay ? tn('customers.days', Number(data.days_to_pay)) : '—' }}
            <small v-if="data.days_to_pay_before" class="soft">{{
              t('customers.before', { days: figure(data.days_to_pay_before) })
            }}</small>
          </dd>
        </div>
      </StandingStrip>
      <DoublesHint v-if="me?.sells && !gone" :customer="id" />
      <ChangeCustomer v-if="changing" :customer="id" @close="changing = false" />
      <GroupMembers v-if="data.group" :group="data.group" :currency="data.standing.currency" />
      <div class="columns">
        <div class="stack">
          <OpenItems :customer="data" />
          <CustomerDocuments class="after" :customer="id" />
          <TopItems class="after" :customer="id" />
        </div>
        <div class="stack">
          <ExposureCard :customer="data" />
          <HowTheyPay :customer="data" />
          <PeoplePlaces :customer="data" @changed="again" />
          <AgreementsCard v-if="data.agreements.length" :customer="data" />
          <StandingOrdersCard v-if="me?.sells" :customer="id" :gone="gone" />
          <section v-if="me?.sells" class="card"><CustomerDeals :customer="data" /></section>
          <ActivityCard
            v-if="me?.sells"
            :activities="data.activities"
            :customer-id="id"
            :hint="t('diary.ofCustomer')"
            @changed="again"
          />
          <MailsCard v-if="me?.sells" kind="customer" :record="id" :may="!gone" :name="data.name" />
          <FilesCard v-if="me?.sells" kind="customer" :record="id" :may="!gone" />
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
  min-width: 0;
}
/* In one column the figures and the people come before the long lists. */
@media (max-width: 820px) {
  .stack {
    display: contents;
  }
  .after {
    order: 1;
  }
}
.gone {
  padding: 7px 16px;
  margin-bottom: 8px;
  background: var(--amber-soft);
}
dd small {
  font-size: 12px;
  font-weight: 400;
}
</style>
