<script setup lang="ts">
/** A standing order as it stands: the day that asks comes first. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { day, units } from '@/kit/format/format'
import ReasonPanel from '@/kit/step/ReasonPanel.vue'
import SureButton from '@/kit/step/SureButton.vue'
import { t } from '@/words'
import StandingTurns from './StandingTurns.vue'
import { standingKey, type Standing } from './queries'
import { inWords } from './repeat'

const props = defineProps<{ standing: Standing }>()
const client = useQueryClient()
const router = useRouter()
const leaving = ref(false)
const { busy, run } = useAct((fault) => {
  if (fault.status === 409)
    void client.invalidateQueries({ queryKey: standingKey(props.standing.id) })
})
/** The day that waits for an answer: one whose draft was thrown away before the next one. */
const asked = computed(
  () =>
    [...props.standing.turns].reverse().find((turn) => turn.state === 'open')?.on ??
    props.standing.next_on,
)
const path = computed(() => ({ path: { pk: props.standing.id } }))
const seen = (reason = '') => ({
  version: props.standing.version,
  on: asked.value ?? '',
  reason,
})
const put = (row: Standing) => {
  client.setQueryData(standingKey(row.id), row)
  void client.invalidateQueries({ queryKey: ['today'] })
}
const begin = () =>
  run(async () => {
    const made = await take(
      api.POST('/api/standing-orders/{pk}/turns', { params: path.value, body: seen() }),
    )
    say(t('ahead.agreement.begun', { number: made.number }))
    await router.push(`/quotes/${made.revision_id}`)
    void client.invalidateQueries()
  })
const leaveOut = (reason: string) =>
  run(async () => {
    const body = seen(reason)
    put(await take(api.POST('/api/standing-orders/{pk}/leave-out', { params: path.value, body })))
    leaving.value = false
  })
const end = () =>
  run(async () => {
    const body = { version: props.standing.version }
    put(await take(api.POST('/api/standing-orders/{pk}/end', { params: path.value, body })))
  })
</script>

<template>
  <p v-if="standing.ended" class="ended" role="status">{{ t('ahead.standing.ended') }}</p>
  <section v-else-if="asked" class="card asks" :class="{ now: standing.asks }">
    <div>
      <h2>
        {{
          standing.asks
            ? t('ahead.standing.asksNow', { day: day(asked) })
            : `${t('ahead.standing.nextDay')}: ${day(asked)}`
        }}
      </h2>
      <p class="soft">
        {{
          standing.asks
            ? t('ahead.standing.asksHint')
            : t('ahead.standing.asksOn', { day: day(standing.ask_on) })
        }}
      </p>
    </div>
    <ElButton :type="standing.asks ? 'primary' : undefined" :loading="busy" @click="begin">{{
      t('ahead.standing.begin')
    }}</ElButton>
    <ElButton :disabled="busy" @click="leaving = true">{{ t('ahead.standing.leaveOut') }}</ElButton>
  </section>
  <div class="columns">
    <section class="card">
      <h2>{{ inWords(standing.repetition) }}</h2>
      <p class="soft">
        {{ t('ahead.standing.begins') }} {{ day(standing.begins) }}
        <template v-if="standing.ends"
          >· {{ t('ahead.standing.ends') }} {{ day(standing.ends) }}</template
        >
        <template v-if="standing.buyer_reference">· {{ standing.buyer_reference }}</template>
        · {{ standing.delivery_address || t('ahead.standing.usual') }}
      </p>
      <table class="list">
        <tbody>
          <tr v-for="line in standing.lines" :key="`${line.item_id} ${line.unit}`">
            <td>
              <RouterLink :to="`/items/${line.item_id}?customer=${standing.customer_id}`">{{
                line.code
              }}</RouterLink>
            </td>
            <td>{{ line.name }}</td>
            <td class="num">{{ units(line.quantity, line.unit_name) }}</td>
          </tr>
        </tbody>
      </table>
      <SureButton
        v-if="!standing.ended"
        :label="t('ahead.standing.end')"
        :question="t('ahead.standing.endSure')"
        :act="t('ahead.standing.endAct')"
        :disabled="busy"
        @go="end"
      />
    </section>
    <StandingTurns :standing="standing" />
  </div>
  <ReasonPanel
    v-if="leaving"
    :title="t('ahead.standing.leaveOutTitle', { day: day(asked) })"
    :act="t('ahead.standing.leaveOutAct')"
    :label="t('ahead.standing.why')"
    :busy="busy"
    @go="leaveOut"
    @close="leaving = false"
  />
</template>

<style scoped>
.asks {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  margin-bottom: 14px;
}
.asks > div {
  margin-right: auto;
}
.asks.now {
  border-left: 6px solid var(--amber);
}
.ended {
  padding: 7px 16px;
  margin-bottom: 8px;
  background: var(--amber-soft);
}
</style>
