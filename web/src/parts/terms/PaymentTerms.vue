<script setup lang="ts">
/** How the whole is paid: days, month, a fixed day, parts, and a discount for paying early. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import type { Fault } from '@/api/fault'
import { say } from '@/kit/act/notices'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import TextField from '@/kit/form/TextField.vue'
import { figure } from '@/kit/format/format'
import { readPercent, type Got } from '@/parts/line/numbers'
import { t } from '@/words'
import type { TermsFields } from './fields'
import { withAnother, withoutPart, withRest, type Part } from './parts'

type More = Shapes['MoreTermsOut']
type Counted = 'invoice' | 'after' | 'before' | 'fixed'
const props = defineProps<{ fields: TermsFields; rate?: string | null; fault: Fault | null }>()
const emit = defineEmits<{ change: [fields: Partial<TermsFields>] }>()
const MOST_DAYS = 365
const more = computed<More>(() => props.fields.terms_more)
const parts = computed(() => more.value.instalments ?? [])
/** How the days are counted; a fixed day is one of the ways. */
const counted = computed<Counted>(() =>
  more.value.fixed_day ? 'fixed' : props.fields.terms_end_of_month || 'invoice',
)
const ways = (['invoice', 'after', 'before', 'fixed'] as const).map((value) => ({
  value,
  label: t(`terms.counted.${value}`),
}))
const faultAt = (path: string) => (props.fault?.path.startsWith(path) ? props.fault.message : '')

function change(next: Partial<More>): void {
  emit('change', { terms_more: { ...more.value, ...next } })
}
function readDays(text: string, from = 0, to = MOST_DAYS): Got<number> {
  const days = Number(text)
  const whole = /^\d{1,3}$/.test(text.trim()) && days >= from && days <= to
  return whole ? { value: days } : { reason: t('terms.daysBetween', { from, to }) }
}
const readTermDays = (text: string) =>
  more.value.fixed_day ? readDays(text, 1, 31) : readDays(text)
function setDays(days: number): void {
  if (more.value.fixed_day) change({ fixed_day: days })
  else emit('change', { terms_days: days })
}
function setCounted(way: Counted | null): void {
  emit('change', {
    terms_end_of_month: way === 'after' || way === 'before' ? way : '',
    terms_more: { ...more.value, fixed_day: way === 'fixed' ? 10 : null },
  })
}
function setEarly(next: Partial<Part>): void {
  const early = { ...(more.value.early ?? { percent: '2', days: 10 }), ...next }
  change({ early: Number(early.percent) > 0 ? early : null })
}
function setPart(n: number, next: Partial<Part>): void {
  const whole = withRest(parts.value.map((part, m) => (m === n ? { ...part, ...next } : part)))
  if (whole) change({ instalments: whole })
  else say(t('terms.partsBelow'))
}
function addPart(): void {
  const next = withAnother(parts.value)
  if (next) change({ instalments: next })
}
</script>

<template>
  <template v-if="!parts.length">
    <TextField
      class="days"
      :text="String(more.fixed_day ?? fields.terms_days)"
      :label="more.fixed_day ? t('terms.paymentDay') : t('terms.paymentDays')"
      name="terms_days"
      figure
      :read="readTermDays"
      :error="faultAt('terms_days') || faultAt('terms_more.fixed_day')"
      @change="setDays"
    />
    <ChoiceField
      class="counted"
      :model-value="counted"
      :choices="ways"
      :label="t('terms.countedFrom')"
      name="terms_end_of_month"
      @update:model-value="setCounted"
    />
  </template>
  <div v-for="(part, n) in parts" :key="n" class="part">
    <TextField
      class="days"
      :text="figure(part.percent)"
      :label="t('terms.partPercent', { n: n + 1 })"
      name="part_percent"
      figure
      :read="readPercent"
      :readonly="n === parts.length - 1"
      @change="(percent) => setPart(n, { percent: percent ?? '0' })"
    />
    <TextField
      class="days"
      :text="String(part.days)"
      :label="t('terms.partDays', { n: n + 1 })"
      name="part_days"
      figure
      :read="readDays"
      @change="(days) => setPart(n, { days })"
    />
    <ElButton
      class="foot"
      text
      size="small"
      :aria-label="t('terms.takeAwayPart', { n: n + 1 })"
      @click="change({ instalments: withoutPart(parts, n) })"
      >{{ t('terms.takeAway') }}</ElButton
    >
  </div>
  <ElButton class="foot" size="small" @click="addPart">
    {{ parts.length ? t('terms.anotherPart') : t('terms.inParts') }}
  </ElButton>
  <div class="part">
    <TextField
      class="days"
      :text="more.early ? figure(more.early.percent) : ''"
      :label="t('terms.early')"
      name="early_percent"
      figure
      placeholder="0"
      :read="readPercent"
      :error="faultAt('terms_more.early.percent')"
      @change="(percent) => setEarly({ percent: percent ?? '0' })"
    />
    <TextField
      class="days"
      :text="more.early ? String(more.early.days) : ''"
      :label="t('terms.earlyDays')"
      name="early_days"
      figure
      :read="readDays"
      :error="faultAt('terms_more.early.days')"
      @change="(days) => setEarly({ days })"
    />
    <span v-if="rate" class="soft worth">{{ t('terms.worth', { rate: figure(rate) }) }}</span>
  </div>
</template>

<style scoped>
.part {
  display: flex;
  align-items: flex-start;
  gap: 6px;
}
.days {
  width: 96px;
}
.counted {
  width: 220px;
}
.foot {
  margin-top: 20px;
}
.worth {
  margin-top: 24px;
  font-size: 12px;
}
</style>
