<script setup lang="ts">
/** The quotes of a deal. */
import { useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { day, figure } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import { t } from '@/words'
import { dealKey, staleByDeal, type Deal } from './queries'

const props = defineProps<{ deal: Deal; quotes: Deal['quotes'] }>()
const client = useQueryClient()
const { busy, run } = useAct((fault) => {
  if (fault.status === 409) void client.invalidateQueries({ queryKey: dealKey(props.deal.id) })
})
const choose = (quote: number) =>
  run(async () => {
    const params = { path: { deal_id: props.deal.id } }
    const body = { version: props.deal.version, quote_id: quote }
    const deal = await take(api.POST('/api/deals/{deal_id}/current-quote', { params, body }))
    client.setQueryData(dealKey(deal.id), deal)
    staleByDeal(client)
    say(t('deals.quotes.chosen'))
  })
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
        <td>
          <template v-if="quotes.length > 1">
            <b v-if="q.current">{{ t('deals.quotes.current') }}</b>
            <ElButton
              v-else-if="q.issued"
              size="small"
              text
              :loading="busy"
              :aria-label="t('deals.quotes.chooseOf', { number: q.number })"
              @click.stop="choose(q.quote_id)"
              >{{ t('deals.quotes.choose') }}</ElButton
            >
          </template>
        </td>
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
