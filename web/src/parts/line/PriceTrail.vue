<script setup lang="ts">
/** How a price came about, what was passed over, the next breaks, and what the line is. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import TextField from '@/kit/form/TextField.vue'
import { day, figure, units as counted } from '@/kit/format/format'
import { maybe, t } from '@/words'
import PastPrices from './PastPrices.vue'
import type { DeskLine } from './line'

type Priced = Shapes['PricedOut']['lines'][number]
type Step = Shapes['FullStep']
type Passed = Shapes['FullPassed']

const props = defineProps<{
  priced: Priced
  line: DeskLine
  above: boolean
  next?: Shapes['NextBreakOut']
  units: Record<string, string>
  lists: Record<string, string>
  currency: string
  editable: boolean
  margin: boolean
  customer?: number
}>()
const emit = defineEmits<{
  reach: [quantity: string]
  reason: [words: string]
  kind: [kind: 'alternative' | 'optional']
  words: [kind: 'heading' | 'note']
  byRules: []
  split: [covered: string, rest: string]
}>()

const unit = (code: string) => props.units[code] ?? code
const list = (code: string) => props.lists[code] ?? code

function name(step: Step): string {
  const from = step.from && step.from !== '0' ? counted(step.from, unit(step.unit)) : ''
  const percent = step.percent ? figure(step.percent) : ''
  const facts = {
    source: step.code === 'agreement' ? step.source : list(step.source),
    from,
    percent,
    currency: step.currency,
    rate: figure(step.rate),
    day: day(step.day),
  }
  const key = `line.steps.${step.code}`
  return (from && maybe(`${key}From`, facts)) || (percent && maybe(`${key}Percent`, facts)) || maybe(key, facts) || step.code // prettier-ignore
}
function value(step: Step): string {
  if (step.value === null) return '—'
  if (step.code === 'line_discount' || step.code === 'rule') return `−${figure(step.value)}`
  const per = step.per && step.per !== '1' ? `${figure(step.per)} ` : ''
  return t('line.aUnit', { price: figure(step.value), unit: `${per}${unit(step.unit)}` })
}
function passed(entry: Passed): string {
  const start = entry.unit
    ? counted(entry.from ?? '', entry.unit === 'KGM' ? 'kg' : unit(entry.unit))
    : `${figure(entry.from)} ${entry.currency}`
  const facts = { day: day(entry.day), start, currency: entry.currency }
  return t('line.passedOne', {
    of:
      entry.kind === 'agreement'
        ? t('line.steps.agreement', { source: entry.source })
        : list(entry.source),
    price: entry.price ? ` ${figure(entry.price)}` : '',
    why: maybe(`line.passed.${entry.reason}`, facts) ?? entry.reason,
  })
}
const shownAbove = computed(() => props.above && props.editable)
</script>

<template>
  <div class="fold trail">
    <ol>
      <li v-for="(step, n) in priced.steps" :key="n">
        <small>{{ name(step) }}</small><b>{{ value(step) }}</b>
      </li>
      <li v-if="priced.net">
        <small>{{ t('line.netOfLine') }}</small><b>{{ figure(priced.net) }} {{ currency }}</b>
      </li>
      <li v-if="line.price !== null && priced.by_rules">
        <small>{{ t('line.rulesWouldGive') }}</small><b>{{ figure(priced.by_rules) }}</b>
      </li>
      <li v-if="margin && priced.cost">
        <small>{{ t('line.cost') }}</small><b>{{ figure(priced.cost) }}</b>
      </li>
    </ol>
    <p v-if="priced.passed_over.length" class="soft passed">
      {{ t('line.passedOver', { list: priced.passed_over.map(passed).join(' · ') }) }}
    </p>
    <ElButton
      v-if="next && editable"
      class="next"
      :class="{ cheaper: next.cheaper_overall }"
      @click="emit('reach', next.quantity)"
    >
      {{
        t(next.cheaper_overall ? 'line.nextCheaper' : 'line.nextSaves', {
          add: counted(next.add, unit(next.unit)),
          net: figure(next.new_net),
          saves: figure(next.saves),
        })
      }}
    </ElButton>
    <ElButton
      v-if="priced.split && editable"
      class="next"
      @click="emit('split', priced.split.covered, priced.split.rest)"
    >
      {{
        t('line.split', {
          covered: counted(priced.split.covered, unit(line.unit)),
          agreement: priced.split.agreement,
          rest: figure(priced.split.rest),
        })
      }}
    </ElButton>
    <PastPrices
      v-if="customer && line.item && !editable"
      :customer="customer"
      :item="line.item.id"
      :unit="unit(line.item.base_unit)"
    />
    <div v-if="editable" class="acts">
      <template v-if="line.price !== null">
        <TextField
          class="why"
          :text="line.price_reason"
          :label="t('line.because')"
          bare
          :placeholder="t('line.because')"
          name="price_reason"
          :maxlength="200"
          @change="(words) => emit('reason', words)"
        />
        <ElButton size="small" @click="emit('byRules')">{{ t('line.byRules') }}</ElButton>
      </template>
      <ElButton
        v-if="shownAbove"
        size="small"
        :aria-pressed="line.kind === 'alternative'"
        @click="emit('kind', 'alternative')"
        >{{ t('line.makeAlternative') }}</ElButton
      >
      <ElButton
        size="small"
        :aria-pressed="line.kind === 'optional'"
        @click="emit('kind', 'optional')"
        >{{ t('line.makeOption') }}</ElButton
      >
      <ElButton size="small" @click="emit('words', 'heading')">{{
        t('line.headingAbove')
      }}</ElButton>
      <ElButton size="small" @click="emit('words', 'note')">{{ t('line.noteAbove') }}</ElButton>
      <PastPrices
        v-if="customer && line.item"
        class="past"
        :customer="customer"
        :item="line.item.id"
        :unit="unit(line.item.base_unit)"
      />
    </div>
  </div>
</template>

<style scoped>
.trail {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 22px;
  padding: 9px 14px 9px var(--trail-in, 14px);
}
ol {
  display: flex;
  gap: 6px 34px;
  flex-wrap: wrap;
}
li {
  position: relative;
  display: flex;
  flex-direction: column;
}
li:not(:last-child)::after {
  content: '→';
  position: absolute;
  right: -24px;
  top: 2px;
  color: var(--ink-2);
}
small {
  font-size: 12px;
  color: var(--ink-2);
}
.passed {
  flex: 1;
  min-width: 200px;
  font-size: 12px;
}
.next {
  border-color: var(--teal);
  color: var(--teal);
  border-radius: var(--radius);
  background: var(--sheet);
}
.next.cheaper {
  border-width: 2px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  flex-basis: 100%;
  align-items: center;
}
.past {
  margin-left: auto;
}
.why {
  width: 280px;
}
</style>
