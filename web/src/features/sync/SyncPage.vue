<script setup lang="ts">
/** How the back office's figures come: each feed, how old, what is set aside, and a whole resync. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { figure, moment } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import SureButton from '@/kit/step/SureButton.vue'
import VerdictMark from '@/kit/show/VerdictMark.vue'
import { maybe, t } from '@/words'
import { worded } from '@/words/refusals'

type Feed = Shapes['FeedOut']
type Kind = Shapes['KnownKind']
const client = useQueryClient()
const SOON_MS = 2_000
const POLL_MS = 15_000
/** Whether something that was asked for anew is still on its way. */
const comes = (told?: Shapes['SyncOut']) =>
  told?.feeds.some((feed) => feed.resync_from) || told?.kinds.some((kind) => kind.anew !== null)
const { data, error, refetch } = useQuery({
  queryKey: ['sync'],
  queryFn: ({ signal }) => take(api.GET('/api/sync', { signal })),
  refetchInterval: (query) => (comes(query.state.data) ? SOON_MS : POLL_MS),
})
const { busy, run } = useAct(() => void refetch())
const shown = ref<number | null>(null)
const changes = computed(() => data.value?.feeds.find((feed) => feed.name === 'changes'))
/** How far a resync has come, in percent. */
const progress = computed(() => {
  const { position = 0, last = 0 } = changes.value ?? {}
  return last ? Math.floor((position / last) * 100) : 0
})
function state(feed: Feed): string {
  if (feed.problem) return maybe(`faults.feed.${feed.problem}`, { status: '' }) ?? feed.problem
  if (!feed.read_at) return t('sync.never')
  return feed.last !== null && feed.position < feed.last ? t('sync.behind') : t('sync.upToDate')
}
const verdict = (feed: Feed) => (feed.problem ? 'halt' : feed.read_at ? 'clear' : 'caution')
async function done(words: string): Promise<void> {
  await client.invalidateQueries()
  say(words)
}
const resync = (kind: Kind['kind'] | null = null) =>
  run(async () => {
    await take(api.POST('/api/sync/resync', { body: { kind } }))
    await done(t(kind ? 'sync.kindAsked' : 'sync.asked'))
  })
const act = (which: 'again' | 'let-go', row: Shapes['AsideOut']) =>
  run(async () => {
    const given = { params: { path: { aside_id: row.id } }, body: { version: row.version } }
    await take(
      which === 'again'
        ? api.POST('/api/sync/asides/{aside_id}/again', given)
        : api.POST('/api/sync/asides/{aside_id}/let-go', given),
    )
    await done(t(which === 'again' ? 'orders.apart.tried' : 'orders.apart.gone'))
  })
</script>

<template>
  <div class="page">
    <header class="top">
      <h1>{{ t('sync.title') }}</h1>
      <RouterLink class="btn" to="/orders/news">{{ t('orders.apart.title') }}</RouterLink>
      <SureButton
        class="anew"
        :label="t('sync.resync')"
        :question="t('sync.sure')"
        :act="t('sync.act')"
        :disabled="busy"
        @go="resync()"
      />
    </header>
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <template v-else>
      <section class="card scroll">
        <table class="list">
          <thead>
            <tr>
              <th>{{ t('sync.columns.what') }}</th>
              <th>{{ t('sync.columns.state') }}</th>
              <th>{{ t('sync.columns.read') }}</th>
              <th class="num">{{ t('sync.columns.position') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="feed in data.feeds" :key="feed.name">
              <td>
                <b>{{ t(`sync.feeds.${feed.name}`) }}</b>
              </td>
              <td>
                <span class="state"
                  ><VerdictMark :verdict="verdict(feed)" :size="16" /> {{ state(feed) }}</span
                >
              </td>
              <td>{{ feed.read_at ? moment(feed.read_at) : '—' }}</td>
              <td class="num">
                {{
                  feed.last === null
                    ? figure(feed.position)
                    : t('sync.of', { position: figure(feed.position), last: figure(feed.last) })
                }}
              </td>
            </tr>
            <tr v-for="kind in data.kinds" :key="kind.kind">
              <td>{{ t(`sync.kinds.${kind.kind}`, { n: figure(kind.count) }) }}</td>
              <td class="soft" colspan="2">
                <template v-if="kind.newest">{{
                  t('sync.between', {
                    oldest: moment(kind.oldest ?? ''),
                    newest: moment(kind.newest),
                  })
                }}</template>
              </td>
              <td class="num">
                <ElProgress
                  v-if="kind.anew !== null"
                  :percentage="kind.anew"
                  :aria-label="t(`sync.kinds.${kind.kind}`, { n: figure(kind.count) })"
                />
                <ElButton
                  v-else
                  size="small"
                  :disabled="busy"
                  :aria-label="t('sync.kindAct', { what: t(`sync.kindNames.${kind.kind}`) })"
                  @click="resync(kind.kind)"
                  >{{ t('sync.act') }}</ElButton
                >
              </td>
            </tr>
          </tbody>
        </table>
        <ElProgress
          v-if="changes?.resync_from"
          :percentage="progress"
          :aria-label="t('sync.resync')"
        />
      </section>
      <section class="card scroll asides">
        <header>
          <h2>{{ t('sync.asides') }}</h2>
          <span class="soft">{{ figure(data.aside_count) }}</span>
        </header>
        <EmptyState v-if="!data.asides.length" :title="t('sync.none')">{{
          t('sync.noneHint')
        }}</EmptyState>
        <table v-else class="list">
          <tbody>
            <template v-for="row in data.asides" :key="row.id">
              <tr>
                <td class="soft">{{ moment(row.received_at) }}</td>
                <td>
                  <b>{{ row.ref || t('orders.apart.nothingKnown') }}</b>
                </td>
                <td class="why">{{ worded(row.reason) ?? row.reason.message }}</td>
                <td class="acts">
                  <ElButton
                    size="small"
                    text
                    :aria-expanded="shown === row.id"
                    @click="shown = shown === row.id ? null : row.id"
                    >{{ t('orders.apart.asItCame') }}</ElButton
                  >
                  <ElButton size="small" :disabled="busy" @click="act('again', row)">{{
                    t('orders.apart.again')
                  }}</ElButton>
                  <ElButton size="small" :disabled="busy" @click="act('let-go', row)">{{
                    t('orders.apart.letGoAct')
                  }}</ElButton>
                </td>
              </tr>
              <tr v-if="shown === row.id">
                <td colspan="4" class="fold">
                  <pre>{{ row.raw }}</pre>
                </td>
              </tr>
            </template>
          </tbody>
        </table>
      </section>
    </template>
  </div>
</template>

<style scoped>
.top {
  display: flex;
  align-items: center;
  gap: 12px;
  margin-bottom: 10px;
}
.anew {
  margin-left: auto;
}
.state {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.asides {
  margin-top: 14px;
}
.acts .el-button + .el-button {
  margin-left: 8px;
}
.why {
  white-space: normal;
}
.acts {
  text-align: right;
  white-space: nowrap;
}
pre {
  margin: 0;
  max-height: 40vh;
  overflow: auto;
  font-size: 12px;
  white-space: pre-wrap;
}
</style>
