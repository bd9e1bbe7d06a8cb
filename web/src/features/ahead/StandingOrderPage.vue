<script setup lang="ts">
/** A standing order: what it is, the day that asks, days to come, days that were answered. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import { say } from '@/kit/act/notices'
import LoadState from '@/kit/show/LoadState.vue'
import { useTitle } from '@/kit/show/title'
import SheetHead from '@/parts/route/SheetHead.vue'
import { t } from '@/words'
import StandingForm from './StandingForm.vue'
import StandingWhole from './StandingWhole.vue'
import { standingKey, useStanding, type Standing } from './queries'

const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const id = computed(() => Number(route.params.id) || 0)
const isNew = computed(() => route.params.id === 'new')
const { data, error, refetch } = useStanding(id.value)
const changing = ref(false)
const customer = computed(() => data.value?.customer_id ?? (Number(route.query.customer) || 0))
const {
  data: buyer,
  error: fault,
  refetch: again,
} = useQuery({
  queryKey: computed(() => ['customer', customer.value]),
  queryFn: () =>
    take(
      api.GET('/api/customers/{customer_id}', {
        params: { path: { customer_id: customer.value } },
      }),
    ),
  enabled: computed(() => customer.value > 0),
})
useTitle(() => data.value?.title)

async function kept(row: Standing): Promise<void> {
  client.setQueryData(standingKey(row.id), row)
  say(t('ahead.standing.saved', { title: row.title }))
  changing.value = false
  if (isNew.value) await router.replace(`/standing-orders/${row.id}`)
  void client.invalidateQueries()
}
</script>

<template>
  <div class="page">
    <template v-if="isNew">
      <LoadState v-if="!buyer" :error="fault" @again="again()" />
      <template v-else>
        <SheetHead :title="t('ahead.standing.newFor', { customer: buyer.name })" />
        <StandingForm
          :customer="customer"
          :places="buyer.addresses"
          @kept="kept"
          @close="router.push(`/customers/${customer}`)"
        />
      </template>
    </template>
    <LoadState v-else-if="!data" :error="error" @again="refetch()" />
    <template v-else>
      <SheetHead :title="data.title">
        {{ t('ahead.standing.one') }} ·
        <RouterLink :to="`/customers/${data.customer_id}`">{{ data.customer }}</RouterLink>
        <template #side>
          <ElButton
            v-if="!data.ended && buyer"
            :aria-expanded="changing"
            @click="changing = !changing"
            >{{ t('ahead.standing.change') }}</ElButton
          >
        </template>
      </SheetHead>
      <StandingForm
        v-if="changing && buyer"
        :key="data.version"
        :customer="customer"
        :places="buyer.addresses"
        :standing="data"
        @kept="kept"
        @close="changing = false"
      />
      <StandingWhole v-else :standing="data" />
    </template>
  </div>
</template>

<style scoped>
/* No sums at the foot here: a panel stands on the edge. */
.page {
  --bar-height: 0px;
}
</style>
