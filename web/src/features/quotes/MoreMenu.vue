<script setup lang="ts">
/** What else can be done with a quote. */
import type { Shapes } from '@/api/client'
import MenuFold from '@/kit/menu/MenuFold.vue'

defineProps<{ quote: Shapes['QuoteOut']; seesMargin: boolean; admin: boolean }>()
const emit = defineEmits<{
  open: [panel: 'solve' | 'earlier' | 'copy' | 'decline' | 'history' | 'keep']
}>()
</script>

<template>
  <MenuFold label="More" up>
    <ul>
      <template v-if="quote.state === 'draft'">
        <li><button @click="emit('open', 'solve')">Solve for…</button></li>
        <li><button @click="emit('open', 'earlier')">Lines from an earlier quote…</button></li>
      </template>
      <li><button @click="emit('open', 'copy')">Copy for another customer…</button></li>
      <li v-if="quote.state === 'issued' || quote.state === 'lapsed'">
        <button @click="emit('open', 'decline')">Declined…</button>
      </li>
      <li><a :href="`/api/revisions/${quote.id}/xlsx`">Sheet (XLSX)</a></li>
      <li><a :href="`/api/revisions/${quote.id}/ubl`">Quotation (UBL)</a></li>
      <li v-if="seesMargin">
        <a :href="`/api/revisions/${quote.id}/case`">Price case (JSON)</a>
      </li>
      <li><button @click="emit('open', 'history')">Who changed what</button></li>
      <li v-if="admin"><button @click="emit('open', 'keep')">Keep as a case…</button></li>
      <li v-if="quote.revisions.length > 1">
        <RouterLink :to="`/quotes/${quote.id}/compare`">Compare revisions</RouterLink>
      </li>
    </ul>
  </MenuFold>
</template>
