<script setup lang="ts">
/** A deal: its Route, its figures and fields, its quotes, its diary, the customer's standing. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { day } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { useTitle } from '@/kit/show/title'
import StandingStrip from '@/parts/customer/StandingStrip.vue'
import ActivityCard from '@/parts/diary/ActivityCard.vue'
import FilesCard from '@/parts/files/FilesCard.vue'
import MailsCard from '@/parts/mail/MailsCard.vue'
import SheetHead from '@/parts/route/SheetHead.vue'
import StartQuote from '@/parts/route/StartQuote.vue'
import { t } from '@/words'
import DealForm from './DealForm.vue'
import DealQuotes from './DealQuotes.vue'
import DealRead from './DealRead.vue'
import DealTeam from './DealTeam.vue'
import InterestCard from './InterestCard.vue'
import { dealKey, dealQuery } from './queries'

const route = useRoute()
const client = useQueryClient()
const id = Number(route.params.id)
const { data, error, refetch } = useQuery(dealQuery(id))
const open = computed(() => data.value?.outcome === 'open')
useTitle(() => data.value?.title)
const again = () => void client.invalidateQueries({ queryKey: dealKey(id) })
</script>

<template>
  <div class="page">
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <template v-else>
      <SheetHead
        :title="data.title"
        :stops="data.route"
        :whole="data.yours ? `/route/deal/${data.id}` : undefined"
      >
        <RouterLink v-if="data.yours" :to="`/customers/${data.customer_id}`">{{
          data.customer
        }}</RouterLink>
        <template v-else>{{ data.customer }}</template>
        · {{ data.owner }} · {{ t('deals.since', { day: day(data.created_at) }) }}
        <template #side>
          <StartQuote v-if="open && data.yours" :deal="id" />
        </template>
      </SheetHead>
      <StandingStrip
        v-if="data.standing"
        :standing="data.standing"
        :to="`/customers/${data.customer_id}`"
      />
      <div class="columns">
        <section class="card">
          <template v-if="data.yours">
            <DealForm :deal="data" />
            <DealQuotes :deal="data" :quotes="data.quotes" />
            <InterestCard v-if="open" :deal="data" />
          </template>
          <DealRead v-else :deal="data" />
          <DealTeam :deal="data" />
        </section>
        <ActivityCard
          :activities="data.activities"
          :deal-id="id"
          :hint="t('diary.ofDeal')"
          :own="!data.yours"
          @changed="again"
        />
        <MailsCard v-if="data.yours" kind="deal" :record="id" may :name="data.customer" />
        <FilesCard kind="deal" :record="id" may />
      </div>
    </template>
  </div>
</template>
