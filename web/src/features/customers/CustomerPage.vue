<script setup lang="ts">
/** A customer: standing, open items by age, people and places, deals, every document. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useRoute } from 'vue-router'
import { me } from '@/api/session'
import { figure } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { useTitle } from '@/kit/show/title'
import StandingStrip from '@/parts/customer/StandingStrip.vue'
import ActivityCard from '@/parts/diary/ActivityCard.vue'
import SheetHead from '@/parts/route/SheetHead.vue'
import StartQuote from '@/parts/route/StartQuote.vue'
import { t, tn } from '@/words'
import CustomerDeals from './CustomerDeals.vue'
import CustomerDocuments from './CustomerDocuments.vue'
import GroupMembers from './GroupMembers.vue'
import OpenItems from './OpenItems.vue'
import PeoplePlaces from './PeoplePlaces.vue'
import { customerKey, customerQuery } from './queries'

const route = useRoute()
const client = useQueryClient()
const id = Number(route.params.id)
const { data, error, refetch } = useQuery(customerQuery(id))
useTitle(() => data.value?.name)
const again = () => void client.invalidateQueries({ queryKey: customerKey(id) })
</script>

<template>
  <div class="page">
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <template v-else>
      <SheetHead :title="data.name">
        {{ data.number }} · {{ data.kind }} · {{ data.price_list }} ({{ data.currency }})
        <template v-if="data.parent_id">
          · {{ t('customers.memberOf') }}
          <RouterLink :to="`/customers/${data.parent_id}`">{{ data.parent }}</RouterLink></template
        >
        · {{ data.terms_words }} · {{ data.owner }}
        <template v-if="me?.sells" #side>
          <RouterLink class="btn" :to="`/customers/${id}/regulars`">{{
            t('regulars.open')
          }}</RouterLink>
          <RouterLink class="btn" :to="`/deals/new?customer=${id}`">{{
            t('deals.new.title')
          }}</RouterLink>
          <StartQuote :customer="id" />
        </template>
      </SheetHead>
      <StandingStrip :standing="data.standing">
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
      <GroupMembers v-if="data.group" :group="data.group" :currency="data.standing.currency" />
      <div class="columns">
        <section class="card">
          <OpenItems :customer="data" />
          <CustomerDeals v-if="me?.sells" :customer="data" />
        </section>
        <div class="stack">
          <CustomerDocuments :documents="data.documents" />
          <PeoplePlaces :customer="data" @changed="again" />
          <ActivityCard
            v-if="me?.sells"
            :activities="data.activities"
            :customer-id="id"
            :hint="t('diary.ofCustomer')"
            @changed="again"
          />
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
dd small {
  font-size: 12px;
  font-weight: 400;
}
</style>
