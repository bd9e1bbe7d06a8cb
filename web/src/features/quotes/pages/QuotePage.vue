<script setup lang="ts">
/** A revision of a quote, on the desk once it is there. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import LoadState from '@/kit/show/LoadState.vue'
import { useTitle } from '@/kit/show/title'
import QuoteDesk from '@/features/quotes/desk/QuoteDesk.vue'
import { revisionQuery } from '@/features/quotes/queries'

const route = useRoute()
const id = Number(route.params.id)
const { data, error, refetch } = useQuery(revisionQuery(id))
const quote = computed(() => data.value)
useTitle(
  () => quote.value && `${quote.value.number} ${quote.value.letter}, ${quote.value.customer}`,
)
</script>

<template>
  <div class="page with-bar desk">
    <QuoteDesk v-if="quote" :quote="quote" @again="refetch()" />
    <LoadState v-else :error="error" :rows="14" @again="refetch()" />
  </div>
</template>

<style scoped>
.desk {
  padding-top: 10px;
}
</style>
