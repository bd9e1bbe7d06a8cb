<script setup lang="ts">
/** What was changed of an order, or asked for, and what the back office said to each line. */
import { clock, day, figure, moment } from '@/kit/format/format'
import { maybe, t, tn } from '@/words'
import type { Order } from './queries'

type Change = Order['changes'][number]
defineProps<{ order: Order; busy: boolean; may: boolean }>()
const emit = defineEmits<{ noticed: [id: number] }>()
function head(change: Change): string {
  const facts = { who: change.by, at: moment(change.at) }
  return change.by ? t('orders.changes.by', facts) : t('orders.changes.byThem', facts)
}
function stands(change: Change): string {
  if (change.state === 'waiting' && change.tries) {
    return tn('orders.handover.tried', change.tries, {
      why: change.said,
      at: clock(change.next_try_at),
    })
  }
  return maybe(`orders.changes.${change.state}`, { why: change.said }) ?? change.state
}
/** What of a line was to become what. */
function what(line: Change['lines'][number]): string {
  return [
    line.becomes === '0' && t('orders.changes.notAny', { was: figure(line.was) }),
    line.becomes &&
      line.becomes !== '0' &&
      t('orders.changes.quantity', { was: figure(line.was), becomes: figure(line.becomes) }),
    line.becomes_on && t('orders.wantedBy', { day: day(line.becomes_on) }),
    line.depot && t('orders.changes.depot', { depot: line.depot }),
    line.place && t('orders.to', { place: [line.place.street, line.place.town].join(', ') }),
  ]
    .filter(Boolean)
    .join(' · ')
}
const toNotice = (change: Change) => change.answered_at !== null && !change.noticed
</script>

<template>
  <section class="card" aria-live="polite">
    <header>
      <h2>{{ t('orders.changes.title') }}</h2>
    </header>
    <article v-for="change in order.changes" :key="change.id" :class="{ news: toNotice(change) }">
      <p>
        <b>{{ head(change) }}</b> · {{ change.reason }}
      </p>
      <p :class="change.state === 'refused' ? 'fault' : 'soft'">{{ stands(change) }}</p>
      <ul>
        <li v-for="line in change.lines" :key="line.line" :class="line.outcome">
          <span class="mark" aria-hidden="true" />
          <span>
            {{ line.text }}: {{ what(line) }}
            <template v-if="line.outcome">
              · <b>{{ maybe(`orders.changes.outcome.${line.outcome}`) }}</b></template
            >
            <template v-if="line.message"> · {{ line.message }}</template>
          </span>
        </li>
      </ul>
      <ElButton
        v-if="may && toNotice(change)"
        size="small"
        :loading="busy"
        @click="emit('noticed', change.id)"
        >{{ t('orders.changes.seen') }}</ElButton
      >
    </article>
  </section>
</template>

<style scoped>
article {
  padding: 6px 0 8px;
  border-bottom: 1px solid var(--rule);
}
article.news {
  border-left: 4px solid var(--coral);
  padding-left: 10px;
}
p {
  margin: 0 0 3px;
}
ul {
  list-style: none;
  margin: 4px 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 16px 1fr;
  gap: 6px;
  align-items: baseline;
}
.mark {
  width: 9px;
  height: 9px;
  border: 2px solid var(--ink-2);
  border-radius: 50%;
}
.taken .mark {
  background: var(--teal);
  border-color: var(--teal);
}
.refused .mark {
  background: var(--red);
  border-color: var(--red);
  border-radius: 2px;
}
</style>
