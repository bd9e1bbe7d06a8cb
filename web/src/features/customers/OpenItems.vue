<script setup lang="ts">
/** What is open: by age as bars, item by item with its parts, and what is paid on account. */
import { computed } from 'vue'
import { day, figure, isNothing, moment, size } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import { differing } from '@/parts/customer/books'
import { t, tn } from '@/words'
import type { Customer } from './queries'

const props = defineProps<{ customer: Customer }>()
const AGES = [
  ['not_due', 'var(--teal)'],
  ['1_30', 'var(--amber)'],
  ['31_60', 'var(--coral)'],
  ['61_90', 'var(--coral)'],
  ['over_90', 'var(--red)'],
] as const
/** How much of its line the longest bar takes, in percent. */
const LONGEST = 58
const standing = computed(() => props.customer.standing)
const buckets = computed(() => standing.value.buckets)
const widest = computed(() => Math.max(1, ...AGES.map(([key]) => size(buckets.value[key] ?? '0'))))
const width = (key: string) => `${(size(buckets.value[key] ?? '0') / widest.value) * LONGEST}%`
/** What the back office's books say of the same, and whether ours do. */
const books = computed(() => {
  const account = props.customer.account
  if (!account) return null
  const at = moment(account.told_at)
  if (account.same) return t('customers.items.books', { at })
  return `${differing(account.rows)} (${at})`
})
const any = computed(() => props.customer.open_items.length + props.customer.on_account.length > 0)
</script>

<template>
  <section id="open-items" class="card">
    <header>
      <h2>{{ t('customers.items.title') }}</h2>
      <span class="soft"
        >{{ tn('customers.items.count', customer.open_items.length) }},
        {{ standing.currency }}</span
      >
    </header>
    <dl class="ages">
      <template v-for="[key, colour] in AGES" :key="key">
        <dt>{{ t(`customers.ages.${key}`) }}</dt>
        <dd>
          <i :style="{ width: width(key), background: colour }" /><b>{{ figure(buckets[key]) }}</b>
        </dd>
      </template>
      <template v-if="!isNothing(standing.credits)">
        <dt>{{ t('customers.ages.apart') }}</dt>
        <dd>
          <b>{{ figure(standing.credits) }}</b>
        </dd>
      </template>
    </dl>
    <EmptyState v-if="!any" :title="t('customers.items.none')">{{
      t('customers.items.noneHint')
    }}</EmptyState>
    <div
      v-else
      class="scroll long"
      tabindex="0"
      role="region"
      :aria-label="t('customers.items.title')"
    >
      <table class="list">
        <thead>
          <tr>
            <th>{{ t('customers.items.invoice') }}</th>
            <th>{{ t('customers.items.due') }}</th>
            <th class="num">{{ t('customers.items.amount') }}</th>
            <th class="num">{{ t('customers.items.paid') }}</th>
            <th class="num">{{ t('customers.items.open') }}</th>
            <th>{{ t('customers.items.late') }}</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="item in customer.open_items" :key="item.id">
            <tr>
              <td>
                <RouterLink :to="`/invoices/${item.id}`">{{ item.number }}</RouterLink>
                <small v-if="item.kind === 'credit'" class="soft">{{
                  t('customers.documents.credit')
                }}</small>
              </td>
              <td>{{ day(item.due_on) }}</td>
              <td class="num">{{ figure(item.gross) }}</td>
              <td class="num soft">{{ isNothing(item.paid) ? '–' : figure(item.paid) }}</td>
              <td class="num">
                {{ figure(item.open) }}
                <small v-if="item.currency !== standing.currency">{{ item.currency }}</small>
              </td>
              <td>
                <span v-if="item.days_late" class="late">{{
                  tn('customers.days', item.days_late)
                }}</span><span v-else>–</span>
              </td>
            </tr>
            <tr v-if="item.early" class="more">
              <td colspan="6">
                <span class="early">{{
                  t('customers.items.early', {
                    percent: figure(item.early.percent),
                    amount: figure(item.early.amount),
                    until: day(item.early.until),
                  })
                }}</span>
              </td>
            </tr>
            <tr v-for="part in item.dues.slice(1)" :key="part.on" class="more">
              <td class="soft">{{ t('customers.items.part') }}</td>
              <td>{{ day(part.on) }}</td>
              <td colspan="2" />
              <td class="num soft">
                {{ t('customers.items.ofIt', { amount: figure(part.amount) }) }}
              </td>
              <td />
            </tr>
          </template>
          <tr v-for="each in customer.on_account" :key="`p${each.id}`">
            <td>
              <RouterLink :to="`/payments/${each.id}`">{{ each.number }}</RouterLink>
              <small class="soft">{{ t('customers.items.onAccount') }}</small>
            </td>
            <td>{{ day(each.on) }}</td>
            <td class="num">{{ figure(each.amount) }}</td>
            <td />
            <td class="num">−{{ figure(each.unused) }}</td>
            <td>–</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="books" class="books" :class="customer.account?.same ? 'soft' : 'differs'">
      {{ books }}
    </p>
  </section>
</template>

<style scoped>
.ages {
  display: grid;
  grid-template-columns: 76px 1fr;
  gap: 4px 12px;
  margin: 4px 0 12px;
  align-items: center;
}
.ages dt {
  font-size: 12px;
  text-align: right;
}
.ages dd {
  display: flex;
  align-items: center;
  gap: 8px;
}
.ages i {
  height: 14px;
  min-width: 2px;
}
.ages b {
  font-size: 12px;
}
.long {
  max-height: 330px;
  overflow: auto;
}
td small {
  margin-left: 6px;
}
.books {
  margin-top: 8px;
  font-size: 12px;
}
.differs {
  color: var(--red);
  font-weight: 600;
}
tr:has(+ .more) td {
  border-bottom: 0;
}
.more td {
  padding-top: 0;
  font-size: 12px;
}
.early {
  color: var(--teal);
  font-weight: 600;
}
</style>
