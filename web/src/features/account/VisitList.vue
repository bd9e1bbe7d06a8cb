<script setup lang="ts">
/** Where one is signed in; each but this one can be ended, or all others at once. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { moment } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'
import { browserName, useVisits, VISITS } from './queries'

const client = useQueryClient()
const { data, error, refetch } = useVisits()
const { busy, run } = useAct()
const others = computed(() => data.value?.some((visit) => !visit.this) ?? false)

const ended = async () => {
  await client.invalidateQueries({ queryKey: VISITS })
  say(t('account.ended'))
}
const end = (visit: number) =>
  run(async () => {
    await take(
      api.DELETE('/api/session/visits/{visit_id}', { params: { path: { visit_id: visit } } }),
    )
    await ended()
  })
const endOthers = () =>
  run(async () => {
    await take(api.DELETE('/api/session/visits'))
    await ended()
  })
</script>

<template>
  <section class="card visits">
    <header>
      <h2>{{ t('account.visits') }}</h2>
      <ElButton v-if="others" size="small" :disabled="busy" @click="endOthers">{{
        t('account.endOthers')
      }}</ElButton>
    </header>
    <LoadState v-if="!data" :error="error" :rows="2" @again="refetch()" />
    <ul v-else>
      <li v-for="visit in data" :key="visit.id">
        <b>{{ browserName(visit.agent) || t('account.unknown') }}</b>
        <span class="soft">{{ visit.address }}</span>
        <span class="soft">{{ t('account.since', { when: moment(visit.since) }) }}</span>
        <span class="soft">{{ t('account.seen', { when: moment(visit.seen) }) }}</span>
        <span class="soft">{{ visit.stays ? t('account.stays') : '' }}</span>
        <span v-if="visit.this">{{ t('account.here') }}</span>
        <ElButton v-else size="small" :disabled="busy" @click="end(visit.id)">{{
          t('account.end')
        }}</ElButton>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.visits {
  margin-top: 14px;
  padding: 14px 18px;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}
li > :last-child {
  margin-left: auto;
}
</style>
