<script setup lang="ts">
/** Before and after: a row a line, then sums and terms; what differs is marked. */
import type { Shapes } from '@/api/client'
import { day, figure } from '@/kit/format/format'
import { maybe, t } from '@/words'

defineProps<{ data: Shapes['ComparisonOut'] }>()
/** A term as read: days as days. */
function said(term: string | null): string {
  return term && /^\d{4}-\d\d-\d\d$/.test(term) ? day(term) : term || '—'
}
const SHOWN = ['quantity', 'price', 'discount', 'net'] as const

function of(line: Shapes['LinePairOut'], name: string): Shapes['PairOut'] | undefined {
  return line.pairs.find((pair) => pair.name === name)
}
/** What does not count in the sums stands in brackets, as on the desk. */
const besides = (kind: string | null | undefined) => maybe(`quotes.compare.kinds.${kind}`) ?? ''
function worth(line: Shapes['LinePairOut'], name: string, side: 'before' | 'after'): string {
  const text = figure(of(line, name)?.[side])
  const beside = besides(of(line, 'kind')?.[side])
  return name === 'net' && beside ? `(${text})` : text
}
function differs(pair: Shapes['PairOut'] | undefined): boolean {
  return !!pair && pair.before !== pair.after
}
</script>

<template>
  <section class="card scroll" tabindex="0" role="region" :aria-label="t('quotes.compare.lines')">
    <table class="list">
      <thead>
        <tr>
          <th>{{ t('quotes.compare.line') }}</th>
          <th />
          <template v-for="name in SHOWN" :key="name">
            <th class="num">{{ t(`quotes.compare.columns.${name}`, { letter: data.before }) }}</th>
            <th class="num after">{{ data.after }}</th>
          </template>
        </tr>
      </thead>
      <tbody>
        <tr v-for="line in data.lines" :key="line.key" :class="line.change">
          <td>{{ besides(of(line, 'kind')?.after) }}{{ line.text }}</td>
          <td class="soft">{{ maybe(`quotes.compare.changes.${line.change}`) }}</td>
          <template v-for="name in SHOWN" :key="name">
            <td class="num soft">{{ worth(line, name, 'before') }}</td>
            <td class="num after" :class="{ moved: differs(of(line, name)) }">
              {{ worth(line, name, 'after') }}
            </td>
          </template>
        </tr>
      </tbody>
    </table>
  </section>
  <div class="columns">
    <section class="card">
      <header>
        <h2>{{ t('quotes.compare.sums') }}</h2>
        <span class="soft">{{ data.currency }}</span>
      </header>
      <table class="list">
        <tbody>
          <tr v-for="pair in data.sums" :key="pair.name">
            <td>{{ maybe(`quotes.compare.names.${pair.name}`) ?? pair.name }}</td>
            <td class="num soft">{{ figure(pair.before) }}</td>
            <td class="num" :class="{ moved: differs(pair) }">{{ figure(pair.after) }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <section class="card">
      <header>
        <h2>{{ t('quotes.compare.conditions') }}</h2>
      </header>
      <table class="list">
        <tbody>
          <tr v-for="pair in data.terms" :key="pair.name">
            <td>{{ maybe(`quotes.compare.terms.${pair.name}`) }}</td>
            <td class="soft">{{ said(pair.before) }}</td>
            <td :class="{ moved: differs(pair) }">{{ said(pair.after) }}</td>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
</template>

<style scoped>
.moved {
  font-weight: 700;
  background: var(--amber-soft);
}
.gone td:first-child {
  text-decoration: line-through;
}
.new td:first-child {
  font-weight: 700;
}
</style>
