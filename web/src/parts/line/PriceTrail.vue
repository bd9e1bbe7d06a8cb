<script setup lang="ts">
/** How a price came about, what was passed over, the next breaks, and what the line is. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import { day, figure, units as counted } from '@/kit/format/format'
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
  const from = step.from && step.from !== '0' ? `, from ${counted(step.from, unit(step.unit))}` : ''
  const percent = step.percent ? ` ${figure(step.percent)} %` : ''
  const words: Record<string, string> = {
    typed: 'Agreed by hand',
    agreement: `Agreement ${step.source}`,
    customer_price: `Price for ${list(step.source)}${from}`,
    list_price: `${list(step.source)}${from}`,
    derived: `${list(step.source)} derives`,
    converted: `${step.currency} at ${figure(step.rate)} of ${day(step.day)}`,
    rule: `${list(step.source)}${percent}`,
    line_discount: `Line discount${percent}`,
    needs_price: 'No price holds',
  }
  return words[step.code] ?? step.code
}
function value(step: Step): string {
  if (step.value === null) return '—'
  if (step.code === 'line_discount' || step.code === 'rule') return `−${figure(step.value)}`
  const per = step.per && step.per !== '1' ? `${figure(step.per)} ` : ''
  return `${figure(step.value)} a ${per}${unit(step.unit)}`
}
function passed(entry: Passed): string {
  const price = entry.price ? ` ${figure(entry.price)}` : ''
  const start = entry.unit
    ? counted(entry.from ?? '', entry.unit === 'KGM' ? 'kg' : unit(entry.unit))
    : `${figure(entry.from)} ${entry.currency}`
  const why: Record<string, string> = {
    not_yet_valid: `from ${day(entry.day)}`,
    expired: `ended ${day(entry.day)}`,
    below: `needs ${start}`,
    not_enough: `only ${start} left`,
    other_currency: `in ${entry.currency}`,
    replaced: 'replaced by the agreed price',
    no_entry: 'silent on this item',
    not_measurable: 'cannot measure it',
    net_price: 'leaves a net price alone',
    not_greatest: 'another takes off more',
    not_exclusive: 'an exclusive rule stands alone',
  }
  const of = entry.kind === 'agreement' ? `Agreement ${entry.source}` : list(entry.source)
  return `${of}${price} (${why[entry.reason] ?? entry.reason})`
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
        <small>Net of the line</small><b>{{ figure(priced.net) }} {{ currency }}</b>
      </li>
      <li v-if="line.price !== null && priced.by_rules">
        <small>The rules would give</small><b>{{ figure(priced.by_rules) }}</b>
      </li>
      <li v-if="margin && priced.cost">
        <small>Cost</small><b>{{ figure(priced.cost) }}</b>
      </li>
    </ol>
    <p v-if="priced.passed_over.length" class="soft passed">
      Passed over: {{ priced.passed_over.map(passed).join(' · ') }}
    </p>
    <button
      v-if="next && editable"
      class="btn next"
      :class="{ cheaper: next.cheaper_overall }"
      @click="emit('reach', next.quantity)"
    >
      Add {{ counted(next.add, unit(next.unit)) }}:
      <template v-if="next.cheaper_overall"
        >the whole then costs less, {{ figure(next.new_net) }} net</template
      >
      <template v-else>{{ figure(next.saves) }} off what is wanted already</template>
    </button>
    <button
      v-if="priced.split && editable"
      class="btn next"
      @click="emit('split', priced.split.covered, priced.split.rest)"
    >
      Split: {{ counted(priced.split.covered, unit(line.unit)) }} from agreement
      {{ priced.split.agreement }}, {{ figure(priced.split.rest) }} at this price
    </button>
    <PastPrices
      v-if="customer && line.item && !editable"
      :customer="customer"
      :item="line.item.id"
      :unit="unit(line.item.base_unit)"
    />
    <div v-if="editable" class="acts">
      <label v-if="line.price !== null" class="why"
        ><small>Agreed because</small>
        <input
          class="input"
          name="price_reason"
          maxlength="200"
          :value="line.price_reason"
          @change="emit('reason', ($event.target as HTMLInputElement).value)"
      /></label>
      <button v-if="line.price !== null" class="btn small" @click="emit('byRules')">
        Price by the rules
      </button>
      <button
        v-if="shownAbove"
        class="btn small"
        :aria-pressed="line.kind === 'alternative'"
        @click="emit('kind', 'alternative')"
      >
        Alternative to the line above
      </button>
      <button
        class="btn small"
        :aria-pressed="line.kind === 'optional'"
        @click="emit('kind', 'optional')"
      >
        Option
      </button>
      <button class="btn small" @click="emit('words', 'heading')">Heading above</button>
      <button class="btn small" @click="emit('words', 'note')">Note above</button>
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
  padding: 9px 14px 9px 62px;
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
li + li::before {
  content: '→';
  position: absolute;
  left: -24px;
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
  display: flex;
  gap: 6px;
  align-items: center;
}
.why .input {
  width: 260px;
  height: 26px;
}
</style>
