<script setup lang="ts">
/** Every document of a customer: quotes, orders, invoices, credit notes. */
import { computed, ref } from 'vue'
import type { Shapes } from '@/api/client'
import { day, figure } from '@/kit/format/format'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import EmptyState from '@/kit/show/EmptyState.vue'
import { maybe, t } from '@/words'

const props = defineProps<{ documents: Shapes['CustomerOut']['documents'] }>()
const KINDS = ['quote', 'order', 'invoice', 'credit'] as const
const shown = ref('')
const choices = [
  { value: '', label: t('list.all') },
  ...KINDS.map((value) => ({ value, label: t(`customers.documents.${value}`) })),
]
const found = computed(() =>
  props.documents.filter((each) => !shown.value || each.kind === shown.value),
)
const name = (each: Shapes['CustomerOut']['documents'][number]) =>
  `${maybe(`customers.documents.${each.kind}`) ?? each.kind} ${each.number}`
/** Where it stands, in the words of its kind. */
function state({ kind, state }: Shapes['CustomerOut']['documents'][number]): string {
  if (kind === 'quote') return maybe(`states.quote.${state}`) ?? state
  return maybe(kind === 'order' ? `states.order.${state}` : `states.invoice.${state}`) ?? state
}
</script>

<template>
  <section class="card">
    <header>
      <h2>{{ t('customers.documents.title') }}</h2>
      <SegmentFilter v-model="shown" :choices="choices" :label="t('customers.documents.title')" />
    </header>
    <EmptyState v-if="!found.length" :title="t('customers.documents.none')">{{
      t('customers.documents.noneHint')
    }}</EmptyState>
    <div
      v-else
      class="long"
      tabindex="0"
      role="region"
      :aria-label="t('customers.documents.title')"
    >
      <table class="list">
        <tbody>
          <tr v-for="each in found" :key="each.kind + each.number">
            <td>
              <RouterLink v-if="each.to" :to="each.to">{{ name(each) }}</RouterLink>
              <template v-else>{{ name(each) }}</template>
            </td>
            <td>{{ day(each.on) }}</td>
            <td class="num">{{ figure(each.amount) }} {{ each.currency }}</td>
            <td>{{ state(each) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.long {
  max-height: 264px;
  overflow: auto;
}
</style>
