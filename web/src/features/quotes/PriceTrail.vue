<script setup lang="ts">
/** How a price came about, what was passed over, and the next break, in plain words. */
import type { Shapes } from '@/api/client'
import { day, figure, units as counted } from '@/shared/format'

type Priced = Shapes['PricedOut']['lines'][number]
type Step = Priced['steps'][number]
type Passed = Priced['passed_over'][number]

const props = defineProps<{
  priced: Priced
  next?: Shapes['NextBreakOut']
  units: Record<string, string>
  lists: Record<string, string>
  currency: string
  editable: boolean
  margin: boolean
}>()
defineEmits<{ reach: [quantity: string] }>()

const unit = (code: string) => props.units[code] ?? code
const list = (code: string) => props.lists[code] ?? code

function name(step: Step): string {
  const from = step.from && step.from !== '0' ? `, from ${counted(step.from, unit(step.unit))}` : ''
  const words: Record<string, string> = {
    typed: 'Agreed by hand',
    list_price: `${list(step.source)}${from}`,
    derived: `${list(step.source)} derives`,
    line_discount: `Line discount${step.percent ? ` ${figure(step.percent)} %` : ''}`,
    needs_price: 'No price holds',
  }
  return words[step.code] ?? step.code
}
function value(step: Step): string {
  if (step.value === null) return '—'
  if (step.code === 'line_discount') return `−${figure(step.value)}`
  const per = step.per && step.per !== '1' ? `${figure(step.per)} ` : ''
  return `${figure(step.value)} a ${per}${unit(step.unit)}`
}
function passed(entry: Passed): string {
  const price = entry.price ? ` ${figure(entry.price)}` : ''
  const why: Record<string, string> = {
    not_yet_valid: `from ${day(entry.day)}`,
    expired: `ended ${day(entry.day)}`,
    below: `needs ${counted(entry.from ?? '', unit(entry.unit))}`,
    other_currency: `in ${entry.currency}`,
    replaced: 'replaced by the agreed price',
    no_entry: 'silent on this item',
  }
  return `${list(entry.source)}${price} (${why[entry.reason] ?? entry.reason})`
}
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
      @click="$emit('reach', next.quantity)"
    >
      Add {{ counted(next.add, unit(next.unit)) }}:
      <template v-if="next.cheaper_overall"
        >the whole then costs less, {{ figure(next.new_net) }} net</template
      >
      <template v-else>{{ figure(next.saves) }} off what is wanted already</template>
    </button>
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
</style>
