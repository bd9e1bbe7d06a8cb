<script setup lang="ts">
/** The quotes that are about to lapse, written about one after the other; each mail is looked through first. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, take } from '@/api/client'
import { day, figure } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import SumBar from '@/kit/show/SumBar.vue'
import { useTitle } from '@/kit/show/title'
import MailPanel from '@/parts/mail/MailPanel.vue'
import { t, tn } from '@/words'

type Done = 'sent' | 'passed'
const route = useRoute()
/** The list that one came from was narrowed by these; nobody else is written to. */
const by = Object.fromEntries(
  ['owner', 'words', 'since', 'until']
    .map((name) => [name, route.query[name]])
    .filter(([, value]) => typeof value === 'string' && value),
)
const { data, error, refetch } = useQuery({
  queryKey: ['quotes', 'remind', by],
  queryFn: ({ signal }) => {
    const query = { state: 'lapsing' as const, sort: 'valid' as const, ...by }
    return take(api.GET('/api/quotes', { params: { query }, signal }))
  },
  staleTime: Infinity,
})
useTitle(() => t('quotes.remind.title'))
const rows = computed(() => data.value?.rows ?? [])
const done = ref<Record<number, Done>>({})
const picked = ref<number | null>(null)
const opened = ref(false)
/** The one that is written about: the one that was picked, else the first that is still to be written. */
const at = computed(() => {
  const left = rows.value.find((row) => !done.value[row.revision_id])
  return rows.value.find((row) => row.revision_id === picked.value) ?? left
})
const place = computed(() => rows.value.findIndex((row) => row === at.value) + 1)
const sent = computed(() => Object.values(done.value).filter((each) => each === 'sent').length)
const sums = computed(() => [
  { label: t('app.places.quotes'), value: String(rows.value.length) },
  { label: t('quotes.remind.sent'), value: String(sent.value), main: true },
])

function settle(id: number, how: Done): void {
  if (done.value[id] !== 'sent') done.value = { ...done.value, [id]: how }
  picked.value = null
}
/** A mail that was sent closes its panel as well: that is no passing over. */
let leaving = false
function sentTo(id: number): void {
  leaving = true
  settle(id, 'sent')
}
function closed(): void {
  if (!leaving && at.value) settle(at.value.revision_id, 'passed')
  leaving = false
}
function write(id: number): void {
  picked.value = id
  opened.value = true
}
const word = (id: number) =>
  done.value[id] ? t(`quotes.remind.${done.value[id]}`) : t('quotes.remind.open')
</script>

<template>
  <div class="page with-bar">
    <header class="top">
      <h1>{{ t('quotes.remind.title') }}</h1>
      <p class="soft">{{ t('quotes.remind.note') }}</p>
    </header>
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <EmptyState v-else-if="!rows.length" class="card" :title="t('quotes.remind.none')">
      <RouterLink to="/quotes">{{ t('app.places.quotes') }}</RouterLink>
    </EmptyState>
    <section v-else class="card">
      <table class="list">
        <thead>
          <tr>
            <th>{{ t('quotes.columns.quote') }}</th>
            <th>{{ t('parts.customer.label') }}</th>
            <th>{{ t('terms.validUntil') }}</th>
            <th class="num">{{ t('quotes.columns.payable') }}</th>
            <th>{{ t('quotes.columns.currency') }}</th>
            <th>{{ t('mail.title') }}</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.revision_id" :class="{ at: opened && row === at }">
            <td>
              <RouterLink :to="`/quotes/${row.revision_id}`"
                >{{ row.number }} {{ row.letter }}</RouterLink
              >
            </td>
            <td>{{ row.customer }}</td>
            <td>{{ day(row.valid_until) }}</td>
            <td class="num">{{ figure(row.payable) }}</td>
            <td class="soft">{{ row.currency }}</td>
            <td>{{ word(row.revision_id) }}</td>
            <td>
              <ElButton
                v-if="done[row.revision_id] !== 'sent'"
                size="small"
                :aria-label="t('quotes.remind.writeTo', { number: row.number })"
                @click="write(row.revision_id)"
                >{{ t('mail.open') }}</ElButton
              >
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <MailPanel
      v-if="opened && at"
      :key="at.revision_id"
      kind="quote"
      reminds
      :record="at.revision_id"
      :title="
        t('mail.reminder', { number: `${at.number} ${at.letter}`, n: place, of: rows.length })
      "
      @sent="sentTo(at.revision_id)"
      @close="closed"
    />
    <SumBar v-if="rows.length" :sums="sums">
      <ElButton v-if="at && !opened" class="step" @click="opened = true">{{
        tn('quotes.remind.begin', rows.length)
      }}</ElButton>
      <span v-else-if="!at" class="hint">{{ t('quotes.remind.through') }}</span>
    </SumBar>
  </div>
</template>

<style scoped>
.top {
  display: flex;
  align-items: baseline;
  flex-wrap: wrap;
  gap: 4px 12px;
}
tr.at td {
  background: var(--amber-soft);
}
.hint {
  color: var(--on-bar-2);
}
</style>
