<script setup lang="ts">
/** The passage to the back office, its news, and the invoices that came back. */
import { computed } from 'vue'
import { me } from '@/api/session'
import { clock, day, figure, isNothing, moment } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import { maybe, t, tn } from '@/words'
import type { Order } from './queries'

const props = defineProps<{ order: Order; busy: boolean }>()
const emit = defineEmits<{ again: []; stop: [] }>()
const state = computed(() => props.order.handover?.state ?? '')
const mayRepeat = computed(
  () => me.value?.fulfils && (state.value === 'refused' || state.value === 'waiting'),
)
/** Whether it hands itself over, and what became of that; nothing once it was. */
const byItself = computed(() => {
  const itself = props.order.by_itself
  if (!itself || props.order.handover) return ''
  if (itself.stopped_by) return t('orders.itself.stopped', { who: itself.stopped_by })
  if (itself.held_by) {
    return maybe(`orders.itself.held.${itself.held_by}`) ?? t('orders.itself.held.any')
  }
  return t('orders.itself.at', { at: clock(itself.due_at) })
})
const sentence = computed(() => {
  const h = props.order.handover
  if (!h) return t('orders.handover.not')
  if (h.state === 'waiting' && h.tries) {
    return tn('orders.handover.tried', h.tries, { why: h.last_error, at: clock(h.next_try_at) })
  }
  const facts = { number: h.backoffice_number, why: h.last_error }
  return maybe(`orders.handover.${h.state}`, facts) ?? h.state
})
</script>

<template>
  <section class="card" aria-live="polite">
    <header>
      <h2>{{ t('orders.handover.title') }}</h2>
      <span class="soft">{{ t('orders.handover.once') }}</span>
    </header>
    <p :class="{ fault: state === 'refused' || state === 'held' }">{{ sentence }}</p>
    <p v-if="byItself" class="itself">
      {{ byItself }}
      <ElButton
        v-if="me?.sells && order.by_itself && !order.by_itself.done"
        size="small"
        :loading="busy"
        @click="emit('stop')"
        >{{ t('orders.itself.stop') }}</ElButton
      >
    </p>
    <p v-if="mayRepeat">
      <ElButton size="small" :loading="busy" @click="emit('again')">{{
        t('orders.handover.again')
      }}</ElButton>
    </p>
    <EmptyState v-if="!order.news.length" :title="t('orders.news.none')">{{
      t('orders.news.noneHint')
    }}</EmptyState>
    <ol v-else class="news">
      <li v-for="(item, n) in order.news" :key="n">
        <span class="dot" :class="item.kind" aria-hidden="true" />
        <b>{{ maybe(`orders.news.${item.kind}`) ?? item.kind }}</b>
        <span>{{ item.number }}</span>
        <span class="num">{{ item.amount ? figure(item.amount) : '' }}</span>
        <small class="soft num">{{ moment(item.at) }}</small>
      </li>
    </ol>
    <template v-if="order.deliveries.length">
      <header class="again">
        <h2>{{ t('orders.deliveries') }}</h2>
      </header>
      <ul class="chips">
        <li v-for="each in order.deliveries" :key="each.id">
          <RouterLink :to="`/deliveries/${each.id}`">{{ each.number }}</RouterLink>{{ ' '
          }}<span class="soft">{{ day(each.on) }}</span>
        </li>
      </ul>
    </template>
    <template v-if="order.returns.length">
      <header class="again">
        <h2>{{ t('orders.returns') }}</h2>
      </header>
      <ul class="back">
        <li v-for="each in order.returns" :key="each.number">
          <b>{{ each.number }}</b> {{ each.lines.join(', ') }}
          <span class="soft">{{ day(each.on) }} · {{ each.reason }}</span>
        </li>
      </ul>
    </template>
    <template v-if="order.invoices.length">
      <header class="again">
        <h2>{{ t('orders.invoices.title') }}</h2>
      </header>
      <table class="list">
        <tbody>
          <tr v-for="i in order.invoices" :key="i.number">
            <td>
              <RouterLink :to="`/invoices/${i.id}`">{{ i.number }}</RouterLink>
            </td>
            <td class="soft">
              {{
                i.kind === 'credit'
                  ? t('orders.invoices.credit')
                  : t('orders.invoices.due', { day: day(i.due_on) })
              }}
            </td>
            <td class="num">{{ figure(i.gross) }}</td>
            <td class="num">
              {{
                isNothing(i.open)
                  ? t('orders.invoices.settled')
                  : t('orders.invoices.open', { amount: figure(i.open) })
              }}
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.again {
  margin-top: 14px;
}
.news li {
  display: grid;
  grid-template-columns: 14px auto 1fr auto;
  gap: 2px 9px;
  align-items: center;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
}
.news small {
  grid-column: 2 / -1;
  text-align: left;
  font-size: 12px;
}
.dot {
  width: 11px;
  height: 11px;
  border-radius: 50%;
  background: var(--teal);
}
.dot.held {
  background: var(--red);
  border-radius: 2px;
}
</style>
