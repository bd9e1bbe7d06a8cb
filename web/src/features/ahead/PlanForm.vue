<script setup lang="ts">
/** The days of a plan as they are typed; what is left can be spread over the days of a rule. */
import { ref } from 'vue'
import { api, take } from '@/api/client'
import { useAct } from '@/kit/act/useAct'
import DayField from '@/kit/form/DayField.vue'
import TextField from '@/kit/form/TextField.vue'
import { useFields } from '@/kit/form/unread'
import { day, figure } from '@/kit/format/format'
import { readQuantity } from '@/parts/line/numbers'
import { t } from '@/words'
import RepetitionFields from './RepetitionFields.vue'
import type { Agreement } from './queries'
import { lackOf, planOf, type PlanRow } from './plan'
import { plainRule, ruleOf } from './repeat'

const props = defineProps<{ agreement: Agreement; busy: boolean }>()
const emit = defineEmits<{
  keep: [rows: { on: string; quantity: string }[], notice: number]
  close: []
}>()
let keys = 0
const rowOf = (on: string | null, quantity: string): PlanRow => ({ key: keys++, on, quantity })
const rows = ref(props.agreement.plan.map((each) => rowOf(each.on, each.quantity)))
if (!rows.value.length) rows.value.push(rowOf(null, ''))
/** Whether somebody wanted to keep a plan that has half a row. */
const asked = ref(false)
const missing = (row: PlanRow, what: 'day' | 'quantity') =>
  asked.value && lackOf(row) === what ? t(`ahead.plan.lacks.${what}`) : ''
const notice = ref(props.agreement.notice_days)
const spreading = ref(false)
const rule = ref(plainRule())
const settle = useFields()
const { busy: asking, run } = useAct()

/** What was called off stays as it is; the rest is spread over days to come. */
const spread = () =>
  run(async () => {
    const found = await take(
      api.POST('/api/agreements/{pk}/plan/proposed', {
        params: { path: { pk: props.agreement.id } },
        body: { repetition: ruleOf(rule.value) },
      }),
    )
    rows.value = found.map((each) => rowOf(each.on, each.quantity))
    spreading.value = false
  })
function go(): void {
  const unread = settle()
  if (unread) return unread.focus()
  const plan = planOf(rows.value)
  asked.value = plan === null
  if (plan) emit('keep', plan, notice.value)
}
</script>

<template>
  <ElForm label-position="top" class="plan-form" @submit.prevent="go">
    <div v-for="(row, n) in rows" :key="row.key" class="row">
      <DayField
        v-model="row.on"
        bare
        :label="t('ahead.plan.day')"
        :from="agreement.valid_from"
        clearable
        :error="missing(row, 'day')"
      />
      <TextField
        bare
        :text="row.quantity && figure(row.quantity)"
        :label="t('ahead.plan.quantity')"
        :unit="agreement.unit_name"
        :read="readQuantity"
        figure
        :error="missing(row, 'quantity')"
        @change="(value) => (row.quantity = value)"
      />
      <ElButton
        text
        size="small"
        :aria-label="t('ahead.plan.remove', { day: row.on ? day(row.on) : '' })"
        @click="rows.splice(n, 1)"
        >✕</ElButton
      >
    </div>
    <div class="chips">
      <ElButton size="small" @click="rows.push(rowOf(null, ''))">{{
        t('ahead.plan.add')
      }}</ElButton>
      <ElButton size="small" :aria-expanded="spreading" @click="spreading = !spreading">{{
        t('ahead.plan.spread')
      }}</ElButton>
    </div>
    <div v-if="spreading" class="spread">
      <RepetitionFields v-model="rule" />
      <ElButton :loading="asking" @click="spread">{{ t('ahead.plan.spreadGo') }}</ElButton>
    </div>
    <ElFormItem :label="t('ahead.plan.notice')">
      <ElInputNumber v-model="notice" :min="0" :max="90" size="small" />
    </ElFormItem>
    <div class="chips">
      <ElButton type="primary" native-type="submit" :loading="busy">{{
        t('ahead.plan.save')
      }}</ElButton>
      <ElButton text @click="emit('close')">{{ t('ahead.plan.leave') }}</ElButton>
    </div>
  </ElForm>
</template>

<style scoped>
.plan-form {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.row {
  display: grid;
  grid-template-columns: 140px 1fr auto;
  gap: 8px;
}
.row :deep(.el-form-item) {
  margin: 0;
}
.spread {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(120px, 1fr));
  gap: 8px 14px;
  align-items: end;
  padding: 8px 12px;
  background: var(--paper);
}
</style>
