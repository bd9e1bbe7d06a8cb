<script setup lang="ts">
/** Customers that may be this one under another number, with why; and merges that can be taken back. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, take } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { clock } from '@/kit/format/format'
import LikelyList from '@/parts/customer/LikelyList.vue'
import { t } from '@/words'
import { customerKey } from './queries'

const props = defineProps<{ customer: number }>()
const client = useQueryClient()
const { busy, run } = useAct()
const params = { path: { customer_id: props.customer } }
const doubles = useQuery({
  queryKey: [...customerKey(props.customer), 'doubles'],
  queryFn: () => take(api.GET('/api/customers/{customer_id}/doubles', { params })),
})
const merges = useQuery({
  queryKey: [...customerKey(props.customer), 'merges'],
  queryFn: () => take(api.GET('/api/customers/{customer_id}/merges', { params })),
})
const undo = (id: number) =>
  run(async () => {
    const done = await take(
      api.POST('/api/merges/{merge_id}/undo', { params: { path: { merge_id: id } } }),
    )
    void client.invalidateQueries()
    say(t('customers.merge.undone', { name: done.gone }))
  })
</script>

<template>
  <aside v-if="doubles.data.value?.length || merges.data.value?.length" class="hint">
    <p v-for="each in merges.data.value" :key="each.id">
      {{ t('customers.merge.was', { name: each.gone }) }}
      <ElButton size="small" :loading="busy" @click="undo(each.id)">{{
        t('customers.merge.undo')
      }}</ElButton>
      <small class="soft">{{ t('customers.merge.until', { time: clock(each.until) }) }}</small>
    </p>
    <template v-if="doubles.data.value?.length">
      <p>{{ t('customers.doubles.title') }}</p>
      <LikelyList :found="doubles.data.value">
        <template #act="{ id }">
          <RouterLink class="btn small" :to="`/customers/${customer}/merge?other=${id}`">{{
            t('customers.merge.compare')
          }}</RouterLink>
        </template>
      </LikelyList>
    </template>
  </aside>
</template>

<style scoped>
.hint {
  margin-top: 10px;
  padding: 8px 16px;
  background: var(--amber-soft);
}
p {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}
</style>
