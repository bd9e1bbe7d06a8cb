<script setup lang="ts">
/** How the whole is paid: days, month, a fixed day, parts, and a discount for paying early. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import { say } from '@/kit/act/notices'
import { readNumber } from '@/parts/line/numbers'
import type { DeskFields } from './useDesk'

type More = Shapes['MoreTermsOut']
type Part = Shapes['PartOut']
const props = defineProps<{ fields: DeskFields; rate: string | null }>()
const emit = defineEmits<{ change: [fields: Partial<DeskFields>] }>()
const more = computed<More>(() => props.fields.terms_more)
const parts = computed(() => more.value.instalments ?? [])
/** How the days are counted; a fixed day is one of the ways. */
const counted = computed(() => (more.value.fixed_day ? 'fixed' : props.fields.terms_end_of_month))

function value(event: Event): string {
  return (event.target as HTMLInputElement).value
}
function change(next: Partial<More>): void {
  emit('change', { terms_more: { ...more.value, ...next } })
}
function setDays(event: Event): void {
  const days = Number(value(event))
  if (more.value.fixed_day) {
    if (Number.isInteger(days) && days >= 1 && days <= 31) change({ fixed_day: days })
    else say('A day of the month is 1 to 31.')
  } else if (Number.isInteger(days) && days >= 0 && days <= 365)
    emit('change', { terms_days: days })
  else say('Payment is due after 0 to 365 days.')
}
function setCounted(event: Event): void {
  const way = value(event)
  emit('change', {
    terms_end_of_month: way === 'fixed' ? '' : (way as ''),
    terms_more: { ...more.value, fixed_day: way === 'fixed' ? 10 : null },
  })
}
function read(event: Event, old: Part): Part | null {
  const field = event.target as HTMLInputElement
  if (field.name.endsWith('percent')) {
    const percent = readNumber(field.value, 4)
    return percent === null ? null : { ...old, percent }
  }
  const days = Number(field.value)
  return Number.isInteger(days) && days >= 0 && days <= 365 ? { ...old, days } : null
}
function setEarly(event: Event): void {
  const next = read(event, more.value.early ?? { percent: '2', days: 10 })
  if (next) change({ early: Number(next.percent) > 0 ? next : null })
  else say('Paying early is a percent and some days, as 2 % within 10 days.')
}
/** The last part is what the others leave of a hundred percent. */
const SHARES = 10_000
function withRest(before: Part[], last: Part): Part[] | null {
  const taken = before.reduce((sum, part) => sum + Math.round(Number(part.percent) * SHARES), 0)
  const rest = 100 * SHARES - taken
  return rest > 0 ? [...before, { ...last, percent: String(rest / SHARES) }] : null
}
function setPart(n: number, event: Event): void {
  const old = parts.value[n]
  const next = old && read(event, old)
  const all = parts.value.map((part, m) => (m === n && next ? next : part))
  const last = all.at(-1)
  const whole = next && last ? withRest(all.slice(0, -1), last) : null
  if (whole) change({ instalments: whole })
  else say('A part is a percent and the days until it is due; together they stay below 100 %.')
}
function addPart(): void {
  const last = parts.value.at(-1)
  if (!last) {
    change({ instalments: [{ percent: '50', days: 0 }, { percent: '50', days: 60 }] }) // prettier-ignore
    return
  }
  const half = { percent: String(Math.floor(Number(last.percent) / 2)), days: last.days }
  const whole = withRest([...parts.value.slice(0, -1), half], { ...last, days: last.days + 30 })
  if (whole && Number(half.percent) > 0) change({ instalments: whole })
}
function takeAway(n: number): void {
  const left = parts.value.filter((_, m) => m !== n)
  const last = left.at(-1)
  const whole = last ? withRest(left.slice(0, -1), last) : null
  change({ instalments: left.length > 1 && whole ? whole : [] })
}
</script>

<template>
  <label v-if="!parts.length"
    ><span>{{ more.fixed_day ? 'Payment, day' : 'Payment, days' }}</span>
    <input
      class="input days"
      type="number"
      :min="more.fixed_day ? 1 : 0"
      :max="more.fixed_day ? 31 : 365"
      name="terms_days"
      :value="more.fixed_day ?? fields.terms_days"
      @change="setDays"
  /></label>
  <label v-if="!parts.length"
    ><span>counted</span>
    <select class="input" name="terms_end_of_month" :value="counted" @change="setCounted">
      <option value="">from the invoice</option>
      <option value="after">then to the end of that month</option>
      <option value="before">from the end of the month</option>
      <option value="fixed">as a day of the next month</option>
    </select></label
  >
  <span v-if="parts.length" class="name">Payment</span>
  <span v-for="(part, n) in parts" :key="n" class="part">
    <input
      class="input days"
      name="part_percent"
      inputmode="decimal"
      :aria-label="`Percent of part ${n + 1}`"
      :value="figure(part.percent)"
      :readonly="n === parts.length - 1"
      @change="setPart(n, $event)"
    />
    % in
    <input
      class="input days"
      name="part_days"
      type="number"
      :aria-label="`Days of part ${n + 1}`"
      :value="part.days"
      @change="setPart(n, $event)"
    />
    days
    <button class="btn quiet small" :aria-label="`Take away part ${n + 1}`" @click="takeAway(n)">
      Take away
    </button>
  </span>
  <button class="btn small" @click="addPart">
    {{ parts.length ? 'Another part' : 'Pay in parts' }}
  </button>
  <span class="part">
    <label
      ><span>Paying early</span>
      <input
        class="input days"
        name="early_percent"
        inputmode="decimal"
        placeholder="0"
        :value="more.early ? figure(more.early.percent) : ''"
        @change="setEarly"
    /></label>
    % within
    <input
      class="input days"
      name="early_days"
      type="number"
      aria-label="Days to pay early"
      :value="more.early?.days ?? ''"
      @change="setEarly"
    />
    <span
      >days<span v-if="rate" class="soft">, worth {{ figure(rate) }} % a year</span></span
    >
  </span>
</template>

<style scoped>
label,
.part {
  display: flex;
  align-items: center;
  gap: 6px;
}
label > span,
.name {
  font-size: 12px;
  color: var(--ink-2);
  white-space: nowrap;
}
.input {
  height: 27px;
  width: auto;
}
.days {
  width: 62px;
  text-align: right;
}
</style>
