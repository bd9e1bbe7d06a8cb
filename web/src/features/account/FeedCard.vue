<script setup lang="ts">
/** The address under which one's calendar reads the follow-ups: told once, made anew, ended. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { moment } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'

const client = useQueryClient()
const { data, error, refetch } = useQuery({
  queryKey: ['feed'],
  queryFn: ({ signal }) => take(api.GET('/api/feed', { signal })),
})
const path = ref('')
const address = computed(() => (path.value ? `${location.origin}${path.value}` : ''))
const { busy, run } = useAct()
const make = () =>
  run(async () => {
    const made = await take(api.POST('/api/feed'))
    path.value = made.path
    client.setQueryData(['feed'], made)
  })
const end = () =>
  run(async () => {
    await take(api.DELETE('/api/feed'))
    path.value = ''
    await refetch()
    say(t('account.feed.ended'))
  })
async function copy(): Promise<void> {
  await navigator.clipboard.writeText(address.value)
  say(t('account.feed.copied'))
}
</script>

<template>
  <section class="card" :aria-label="t('account.feed.title')">
    <header>
      <h2>{{ t('account.feed.title') }}</h2>
      <span class="soft">{{ t('account.feed.hint') }}</span>
    </header>
    <LoadState v-if="!data" :error="error" :rows="2" @again="refetch()" />
    <template v-else>
      <p v-if="address" class="address">
        <ElInput
          readonly
          :model-value="address"
          :aria-label="t('account.feed.address')"
          @focus="($event.target as HTMLInputElement).select()"
        />
        <ElButton size="small" @click="copy">{{ t('account.feed.copy') }}</ElButton>
      </p>
      <p v-if="address" class="soft">{{ t('account.feed.once') }}</p>
      <p v-else-if="data.made_at" class="soft">
        {{ t('account.feed.made', { when: moment(data.made_at) }) }}
        {{
          data.read_at
            ? t('account.feed.read', { when: moment(data.read_at) })
            : t('account.feed.unread')
        }}
      </p>
      <p class="acts">
        <ElButton :loading="busy" @click="make">{{
          data.made_at ? t('account.feed.anew') : t('account.feed.make')
        }}</ElButton>
        <ElButton v-if="data.made_at" :disabled="busy" @click="end">{{
          t('account.feed.end')
        }}</ElButton>
      </p>
    </template>
  </section>
</template>

<style scoped>
.card {
  margin-top: 14px;
}
.address {
  display: flex;
  gap: 8px;
}
.acts {
  display: flex;
  gap: 8px;
  margin-top: 8px;
}
</style>
