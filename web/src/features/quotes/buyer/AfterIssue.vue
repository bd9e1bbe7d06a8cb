<script setup lang="ts">
/** What becomes of a quote that was issued: sent to its buyer, read at its address, answered there. */
import type { Shapes } from '@/api/client'
import MailsCard from '@/parts/mail/MailsCard.vue'
import BuyerCard from './BuyerCard.vue'
import { isNext } from './writeNext'

const props = defineProps<{ quote: Shapes['QuoteOut'] }>()
const start = isNext(props.quote.id)
</script>

<template>
  <MailsCard
    kind="quote"
    :record="quote.id"
    may
    :name="`${quote.number} ${quote.letter}`"
    :start="start"
  />
  <BuyerCard :quote="quote" />
  <div class="gap" />
</template>

<style scoped>
.gap {
  height: 10px;
}
</style>
