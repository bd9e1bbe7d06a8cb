<script setup lang="ts">
/** What was noted at a quote, an order, an invoice. It stands on the deal and the customer as well. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '@/api/client'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'
import type { Document } from './activity'
import ActivityCard from './ActivityCard.vue'

const props = defineProps<{ about: Document; record: number }>()
const { data, error, refetch } = useQuery({
  queryKey: computed(() => ['activities', props.about, props.record]),
  queryFn: ({ signal }) => {
    const params = { path: { about: props.about, record: props.record } }
    return take(api.GET('/api/activities/{about}/{record}', { params, signal }))
  },
})
</script>

<template>
  <section v-if="!data" class="card">
    <LoadState :error="error" :rows="2" @again="refetch()" />
  </section>
  <ActivityCard
    v-else
    :activities="data"
    :document="{ about, record }"
    :hint="t('diary.ofDocument')"
    @changed="refetch()"
  />
</template>
