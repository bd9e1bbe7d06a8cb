<script setup lang="ts">
/** What a customer wants on fixed days, and which of it asks now. */
import { useQuery } from '@tanstack/vue-query'
import { api, take } from '@/api/client'
import { day } from '@/kit/format/format'
import { t } from '@/words'

const props = defineProps<{ customer: number; gone: boolean }>()
const { data } = useQuery({
  queryKey: ['standing-orders', props.customer],
  queryFn: ({ signal }) => {
    const params = { path: { customer_id: props.customer } }
    return take(api.GET('/api/customers/{customer_id}/standing-orders', { params, signal }))
  },
})
</script>

<template>
  <section class="card" :aria-label="t('ahead.standing.title')">
    <header>
      <h2>{{ t('ahead.standing.title') }}</h2>
      <RouterLink
        v-if="!gone"
        class="btn small"
        :to="`/standing-orders/new?customer=${customer}`"
        >{{ t('ahead.standing.add') }}</RouterLink
      >
    </header>
    <p v-if="data && !data.length" class="soft">{{ t('ahead.standing.none') }}</p>
    <p v-for="each in data" :key="each.id" class="one">
      <RouterLink :to="`/standing-orders/${each.id}`">{{ each.title }}</RouterLink>
      <span v-if="each.ended" class="soft">{{ t('ahead.standing.ended') }}</span>
      <span v-else :class="{ asks: each.asks }">{{
        each.asks && each.next_on
          ? t('ahead.standing.asksNow', { day: day(each.next_on) })
          : day(each.next_on)
      }}</span>
    </p>
  </section>
</template>

<style scoped>
header,
.one {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  justify-content: space-between;
  align-items: baseline;
}
.asks {
  font-weight: 700;
  color: var(--amber-ink);
}
</style>
