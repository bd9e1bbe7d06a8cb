<script setup lang="ts">
/** The sheet of regulars: what a customer usually buys; quantities typed down it go onto a quote. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, useTemplateRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import { me } from '@/api/session'
import { useAct } from '@/kit/act/useAct'
import { useKeptForm } from '@/kit/draft/useKeptForm'
import { figure } from '@/kit/format/format'
import { useKeys } from '@/kit/keys/useKeys'
import ListPages from '@/kit/list/ListPages.vue'
import { useFilters } from '@/kit/list/useFilters'
import Menu from '@/kit/menu/Menu.vue'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import SumBar from '@/kit/show/SumBar.vue'
import { useTitle } from '@/kit/show/title'
import SureButton from '@/kit/step/SureButton.vue'
import StandingStrip from '@/parts/customer/StandingStrip.vue'
import { useAround, useRegulars, type Asked } from '@/parts/regulars/queries'
import RegularsFilters from '@/parts/regulars/RegularsFilters.vue'
import RegularsTable from '@/parts/regulars/RegularsTable.vue'
import { useTyped, type Texts } from '@/parts/regulars/typed'
import { useSums } from '@/parts/regulars/useSums'
import { t, tn } from '@/words'

const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const id = Number(route.params.id)
const { values } = useFilters({ show: 'bought', months: '24', words: '', page: '1' })
const asked = computed<Asked>({
  get: () => ({
    show: values.value.show as Asked['show'],
    months: Number(values.value.months) as Asked['months'],
    words: values.value.words,
    page: Number(values.value.page),
  }),
  set: (now) =>
    (values.value = {
      show: now.show,
      months: String(now.months),
      words: now.words,
      page: String(now.page),
    }),
})
const page = computed({
  get: () => values.value.page,
  set: (now) => (asked.value = { ...asked.value, page: Number(now) }),
})
const { data, error, refetch, isPlaceholderData } = useRegulars(id, asked)
const { data: around, error: lost, refetch: askAround } = useAround(id)
useTitle(() => data.value && `${t('regulars.title')}, ${data.value.customer}`)

const kept = useKeptForm<{ texts: Texts; depot: number | null }>(
  me.value?.id ?? 0,
  `regulars-${id}`,
  2,
  () => ({ texts: {}, depot: null }),
)
const texts = computed({
  get: () => kept.form.value.texts,
  set: (now: Texts) => (kept.form.value = { ...kept.form.value, texts: now }),
})
/** The depot that goods leave from, kept with what is typed; null the usual one. */
const depot = computed({
  get: () => kept.form.value.depot,
  set: (now) => (kept.form.value = { ...kept.form.value, depot: now }),
})
const typed = useTyped(texts, () => depot.value)
const { lines, unread } = typed
const currency = computed(() => data.value?.currency ?? '')
const { sums, found, stale } = useSums(id, lines, currency)
const standing = computed(() => found.value?.standing ?? around.value?.standing)

const { busy, run } = useAct()
const draft = computed(() => around.value?.drafts[0])
/** Put the lines on a draft, or on a new quote, and go there. */
const put = (on: { id: number; version: number } | undefined) =>
  run(async () => {
    // Not before it is known whether a draft is open: what is said on the button is done.
    if (!around.value || !lines.value.length || unread.value.length) return
    const made = await take(
      api.POST('/api/customers/{customer_id}/regulars/quote', {
        params: { path: { customer_id: id } },
        body: { lines: lines.value, revision_id: on?.id ?? null, version: on?.version ?? null },
      }),
    )
    kept.clear()
    void client.invalidateQueries()
    await router.push(`/quotes/${made.revision_id}`)
  })
const payable = computed(() => (stale.value ? null : (found.value?.totals.payable ?? null)))
/** Write the order at once, over the total that is seen. */
const order = () =>
  run(async () => {
    if (!lines.value.length || unread.value.length || payable.value === null) return
    const made = await take(
      api.POST('/api/customers/{customer_id}/regulars/order', {
        params: { path: { customer_id: id } },
        body: { lines: lines.value, payable: payable.value },
      }),
    )
    kept.clear()
    void client.invalidateQueries()
    await router.push(`/orders/${made.order_id}`)
  })
const elsewhere = computed(() => [
  ...(draft.value ? [{ label: t('regulars.ontoNew'), act: () => void put(undefined) }] : []),
  ...(around.value?.drafts ?? []).map((each) => ({
    label: t('regulars.onto', { number: `${each.number} ${each.letter}` }),
    act: () => void put(each),
  })),
  { label: t('regulars.clear'), act: kept.clear, divided: true },
])
const step = computed(() => {
  const n = lines.value.length
  if (!draft.value) return tn('regulars.put', n)
  return tn('regulars.putOn', n, { number: draft.value.number })
})
useKeys(() => ({
  title: t('regulars.keys.title'),
  keys: [
    { keys: '↑, ↓, Enter', does: t('regulars.keys.next') },
    { keys: '=', does: t('regulars.keys.last') },
    { keys: 'Alt ↓', does: t('regulars.keys.past') },
    {
      keys: 'Ctrl Enter',
      does: t('regulars.keys.put'),
      act: () => void put(draft.value),
      whileTyping: true,
    },
  ],
}))
const table = useTemplateRef('table')
watch(
  () => data.value !== undefined,
  (there) => there && void nextTick(() => table.value?.start()),
  { immediate: true },
)
const head = computed(() =>
  t(asked.value.show === 'group' ? 'regulars.headGroup' : 'regulars.head', {
    customer: data.value?.customer ?? '',
    months: asked.value.months,
    items: tn('regulars.items', data.value?.count ?? 0),
  }),
)
</script>

<template>
  <div class="page with-bar">
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <template v-else>
      <header class="top">
        <h1>{{ t('regulars.title') }}</h1>
        <p class="soft">
          <RouterLink :to="`/customers/${id}`">{{ data.customer }}</RouterLink> · {{ head }}
        </p>
      </header>
      <RegularsFilters v-model="asked" v-model:depot="depot" :sheet="data" :around="around" />
      <LoadState v-if="!around && lost" :error="lost" @again="askAround()" />
      <div v-else-if="!standing" class="card to-come" aria-busy="true" />
      <StandingStrip v-if="standing" :standing="standing" :to="`/customers/${id}`">
        <div v-if="found && (standing.after ?? standing.group?.after)">
          <dt>{{ t('regulars.after') }}</dt>
          <dd>{{ figure(standing.after ?? standing.group?.after) }}</dd>
        </div>
      </StandingStrip>
      <EmptyState v-if="!data.rows.length" class="card" :title="t('regulars.none')">{{
        t(asked.show === 'due' ? 'regulars.noneDue' : 'regulars.noneBought')
      }}</EmptyState>
      <template v-else>
        <RegularsTable
          ref="table"
          class="table"
          :sheet="data"
          :customer="id"
          :margin="me?.sees_margin ?? false"
          :text="typed.textOf"
          :reason="typed.reasonOf"
          :stale="isPlaceholderData"
          :depot="depot"
          :lines="lines"
          @type="typed.type"
        />
        <p class="soft hint">{{ t('regulars.hint') }}</p>
        <ListPages v-if="data.pages > 1" v-model="page" :pages="data.pages" />
      </template>
      <SumBar :sums="sums" :stale="stale">
        <span v-if="unread.length" class="unread" role="status">{{
          t('regulars.unreadHint', { items: unread.join(', ') })
        }}</span>
        <SureButton
          v-if="lines.length && payable !== null"
          :label="t('regulars.straight')"
          :question="t('regulars.orderSure', { payable: figure(payable), currency })"
          :act="t('regulars.orderAct')"
          :disabled="busy || unread.length > 0"
          large
          @go="order"
        />
        <Menu :rows="elsewhere" :label="t('regulars.elsewhere')" text />
        <ElButton
          class="step"
          :disabled="!around || !lines.length || unread.length > 0"
          :loading="busy"
          @click="put(draft)"
          >{{ step }}</ElButton
        >
      </SumBar>
    </template>
  </div>
</template>

<style scoped>
.top {
  display: flex;
  align-items: baseline;
  gap: 4px 12px;
  flex-wrap: wrap;
}
/* The standing's place, so that nothing moves when it comes. */
.to-come {
  min-height: 58px;
}
.table {
  margin-top: 10px;
}
.hint {
  font-size: 12px;
  margin: 6px 4px;
}
.unread {
  color: var(--bar-accent);
  font-weight: 600;
}
</style>
