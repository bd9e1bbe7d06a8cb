<script setup lang="ts">
/** The quote's own address for its buyer: made, copied, ended; what the buyer said there, and what becomes of it. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { moment } from '@/kit/format/format'
import SureButton from '@/kit/step/SureButton.vue'
import { t, tn } from '@/words'
import BuyerSaid from './BuyerSaid.vue'

const props = defineProps<{ quote: Shapes['QuoteOut'] }>()
const client = useQueryClient()
const router = useRouter()
const POLL_MS = 15_000
const key = computed(() => ['buyer', props.quote.id])
const params = computed(() => ({ path: { revision_id: props.quote.id } }))
const { data } = useQuery({
  queryKey: key,
  queryFn: ({ signal }) =>
    take(api.GET('/api/revisions/{revision_id}/buyer', { params: params.value, signal })),
  refetchInterval: POLL_MS,
})
const { busy, run } = useAct(() => void client.invalidateQueries({ queryKey: key.value }))
const quantities = ref(false)
const made = ref('')
const open = computed(() => ['issued', 'part_ordered'].includes(props.quote.state))
const shown = computed(() => open.value || data.value?.link || data.value?.said.length)
const note = computed(() => {
  const link = data.value?.link
  if (!link) return t('buyer.none')
  const facts = { at: moment(link.made_at), who: link.made_by }
  const read = link.opened_last
    ? tn('buyer.opened', link.opened, { at: moment(link.opened_last) })
    : t('buyer.unopened')
  return `${t('buyer.made', facts)} ${read}`
})
const make = () =>
  run(async () => {
    const body = { quantities: quantities.value }
    const answer = await take(
      api.POST('/api/revisions/{revision_id}/buyer', { params: params.value, body }),
    )
    made.value = `${location.origin}${answer.path}`
    client.setQueryData(key.value, answer)
    await copy()
  })
async function copy(): Promise<void> {
  try {
    await navigator.clipboard.writeText(made.value)
    say(t('buyer.copied'))
  } catch {
    say(t('buyer.copyYourself'))
  }
}
const end = () =>
  run(async () => {
    const link_id = data.value?.link?.id ?? 0
    made.value = ''
    client.setQueryData(
      key.value,
      await take(api.POST('/api/buyer-links/{link_id}/end', { params: { path: { link_id } } })),
    )
  })
const order = (answer_id: number, close_deal: boolean) =>
  run(async () => {
    const written = await take(
      api.POST('/api/buyer-answers/{answer_id}/order', {
        params: { path: { answer_id } },
        body: { close_deal },
      }),
    )
    await router.push(`/orders/${written.id}`)
    void client.invalidateQueries()
  })
const reply = (answer_id: number, words: string) =>
  run(async () => {
    client.setQueryData(
      key.value,
      await take(
        api.POST('/api/buyer-answers/{answer_id}/reply', {
          params: { path: { answer_id } },
          body: { reply: words },
        }),
      ),
    )
    void client.invalidateQueries({ queryKey: ['today'] })
  })
</script>

<template>
  <section v-if="shown && data" class="card buyer" aria-live="polite">
    <header>
      <h2>{{ t('buyer.title') }}</h2>
      <span class="soft">{{ note }}</span>
      <template v-if="open">
        <ElCheckbox v-model="quantities" size="small">{{ t('buyer.quantities') }}</ElCheckbox>
        <ElButton size="small" :loading="busy" @click="make">{{
          data.link ? t('buyer.anew') : t('buyer.make')
        }}</ElButton>
      </template>
      <SureButton
        v-if="data.link"
        :label="t('buyer.end')"
        :question="t('buyer.sure')"
        :act="t('buyer.end')"
        :disabled="busy"
        @go="end"
      />
    </header>
    <p v-if="made" class="made">
      <input
        :value="made"
        readonly
        :aria-label="t('buyer.title')"
        @focus="($event.target as HTMLInputElement).select()"
      />
      <ElButton size="small" @click="copy">{{ t('buyer.copy') }}</ElButton>
      <small class="soft">{{ t('buyer.once') }}</small>
    </p>
    <BuyerSaid
      v-for="row in data.said"
      :key="row.id"
      :said="row"
      :quote="quote"
      :busy="busy"
      @order="(close) => order(row.id, close)"
      @reply="(words) => reply(row.id, words)"
    />
  </section>
</template>

<style scoped>
.buyer {
  margin: 10px 0;
}
header {
  flex-wrap: wrap;
}
header .soft {
  margin-right: auto;
}
.made {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 6px 0 0;
}
.made input {
  flex: 1;
  min-width: 200px;
}
</style>
