<script setup lang="ts">
/** The quotes of a deal. */
import { useRouter } from 'vue-router'
import { day, figure } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import { t } from '@/words'
import type { Deal } from './queries'

defineProps<{ quotes: Deal['quotes'] }>()
const router = useRouter()
</script>

<template>
  <header class="again">
    <h2>{{ t('deals.quotes.title') }}</h2>
  </header>
  <EmptyState v-if="!quotes.length" :title="t('deals.quotes.none')">
    {{ t('deals.quotes.noneHint') }}
  </EmptyState>
  <table v-else class="list">
    <tbody>
      <tr
        v-for="q in quotes"
        :key="q.revision_id"
        class="goes"
        @click="router.push(`/quotes/${q.revision_id}`)"
      >
        <td>
          <RouterLink class="whole" :to="`/quotes/${q.revision_id}`" @click.stop
            >{{ q.number }} {{ q.letter }}</RouterLink
          >
        </td>
        <td>{{ t(`states.quote.${q.state}`) }}</td>
        <td class="soft">{{ t('deals.quotes.validTo', { day: day(q.valid_until) }) }}</td>
        <td class="num">{{ figure(q.payable) }} {{ q.currency }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.again {
  margin-top: 18px;
}
</style>
