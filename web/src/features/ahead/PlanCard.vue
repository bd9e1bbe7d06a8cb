<script setup lang="ts">
/** What was planned and where each day stands; changed in place, or spread over the days of a rule. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, take } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { day, figure, units } from '@/kit/format/format'
import { t } from '@/words'
import PlanForm from './PlanForm.vue'
import { agreementKey, type Agreement } from './queries'

const props = defineProps<{ agreement: Agreement }>()
const client = useQueryClient()
const changing = ref(false)
const { busy, run } = useAct()
const many = (quantity: string) =>
  props.agreement.in_money
    ? `${figure(quantity)} ${props.agreement.unit_name}`
    : units(quantity, props.agreement.unit_name)
const keep = (rows: { on: string; quantity: string }[], notice: number) =>
  run(async () => {
    const kept = await take(
      api.PUT('/api/agreements/{pk}/plan', {
        params: { path: { pk: props.agreement.id } },
        body: { version: props.agreement.plan_version, notice_days: notice, rows },
      }),
    )
    client.setQueryData(agreementKey(kept.id), kept)
    changing.value = false
    say(t('ahead.plan.saved'))
    void client.invalidateQueries({ queryKey: ['agreements'] })
  })
</script>

<template>
  <section class="card" :aria-label="t('ahead.plan.title')">
    <header>
      <h2>{{ t('ahead.plan.title') }}</h2>
      <ElButton v-if="!changing" size="small" @click="changing = true">{{
        t('ahead.plan.change')
      }}</ElButton>
    </header>
    <PlanForm
      v-if="changing"
      :agreement="agreement"
      :busy="busy"
      @keep="keep"
      @close="changing = false"
    />
    <p v-else-if="!agreement.plan.length" class="soft">{{ t('ahead.plan.none') }}</p>
    <table v-else class="list">
      <tbody>
        <tr v-for="row in agreement.plan" :key="row.on" :class="row.state">
          <td>{{ day(row.on) }}</td>
          <td class="num">{{ many(row.quantity) }}</td>
          <td>
            <b class="state">{{ t(`ahead.plan.states.${row.state}` as never) }}</b>
          </td>
          <td class="soft">
            {{
              row.state !== 'done' && row.open !== row.quantity
                ? t('ahead.plan.open', { quantity: many(row.open) })
                : ''
            }}
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.done {
  color: var(--ink-2);
}
.done .state {
  color: var(--teal);
}
.late .state {
  color: var(--red);
}
.due .state {
  color: var(--amber-ink);
}
</style>
