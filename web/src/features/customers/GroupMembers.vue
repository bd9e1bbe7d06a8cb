<script setup lang="ts">
/** A parent and its members: where each stands, what each owes, and what all of them come to. */
import type { Shapes } from '@/api/client'
import { figure, isNothing } from '@/kit/format/format'
import VerdictMark from '@/kit/show/VerdictMark.vue'
import { t, tn } from '@/words'

defineProps<{ group: Shapes['GroupOut']; currency: string }>()
</script>

<template>
  <section class="card group scroll" :aria-label="t('customers.group.title')">
    <header>
      <h2>{{ t('customers.group.title') }}</h2>
      <span class="soft">{{ tn('customers.group.count', group.count) }}</span>
    </header>
    <table class="list">
      <thead>
        <tr>
          <th>{{ t('customers.group.member') }}</th>
          <th>{{ t('customers.columns.standing') }}</th>
          <th class="num">{{ t('customers.columns.overdue') }}</th>
          <th class="num">{{ t('customers.group.balance', { currency }) }}</th>
          <th class="num">{{ t('customers.group.exposure') }}</th>
          <th class="num">{{ t('customers.group.limit') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in group.members" :key="row.id">
          <td>
            <b v-if="row.head">{{ row.name }}</b>
            <RouterLink v-else :to="`/customers/${row.id}`">{{ row.name }}</RouterLink>
          </td>
          <td>
            <span class="verdict"
              ><VerdictMark :verdict="row.verdict" :size="16" />
              {{ t(`words.verdicts.${row.verdict}`) }}</span
            >
          </td>
          <td class="num" :class="{ late: !isNothing(row.overdue) }">{{ figure(row.overdue) }}</td>
          <td class="num">{{ figure(row.balance) }}</td>
          <td class="num">{{ figure(row.exposure) }}</td>
          <td class="num soft">
            {{
              row.head
                ? t('customers.group.ofGroup')
                : row.limit
                  ? figure(row.limit)
                  : t('customers.group.none')
            }}
          </td>
        </tr>
        <tr v-if="group.others">
          <td colspan="6" class="soft">{{ tn('customers.group.others', group.others) }}</td>
        </tr>
      </tbody>
      <tfoot>
        <tr>
          <th colspan="2">{{ t('customers.group.all') }}</th>
          <td class="num">{{ figure(group.overdue) }}</td>
          <td class="num">{{ figure(group.balance) }}</td>
          <td class="num">{{ figure(group.exposure) }}</td>
          <td />
        </tr>
      </tfoot>
    </table>
  </section>
</template>

<style scoped>
.group {
  margin-top: 14px;
  padding: 12px 16px;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}
.verdict {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
tfoot :is(td, th) {
  font-size: inherit;
  font-weight: 700;
  color: var(--ink);
  border-top: 1.5px solid var(--ink);
  border-bottom: 0;
}
</style>
