<script setup lang="ts">
/** What comes of the customers of a file: refused rows, likely doubles to decide, then the rest. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import LikelyList from '@/parts/customer/LikelyList.vue'
import { maybe, t, tn } from '@/words'
import { worded } from '@/words/refusals'

const props = defineProps<{ report: Shapes['CustomerFiling']; kept: boolean }>()
/** Rows of doubles that are made anyway. */
const anyway = defineModel<number[]>({ required: true })
const doubles = computed(() => props.report.told.filter((row) => row.state === 'double'))
const others = computed(() => props.report.told.filter((row) => row.state !== 'double'))
function decide(row: number, own: boolean): void {
  anyway.value = own ? [...anyway.value, row] : anyway.value.filter((each) => each !== row)
}
type Row = Shapes['CustomerTold']
const why = (all: string[]) =>
  all.map((each) => maybe(`parts.customer.why.${each}`) ?? each).join(', ')
const brings = (row: Row) =>
  [
    row.people ? tn('customers.merge.kinds.contact', row.people) : '',
    row.places ? tn('customers.merge.kinds.address', row.places) : '',
  ]
    .filter(Boolean)
    .join(', ')
</script>

<template>
  <div v-if="report.faults.length" class="rows scroll">
    <table class="list">
      <thead>
        <tr>
          <th class="num">{{ t('desk.paste.row') }}</th>
          <th>{{ t('parts.customer.label') }}</th>
          <th>{{ t('quotes.file.column') }}</th>
          <th>{{ t('quotes.file.why') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(f, n) in report.faults" :key="n">
          <td class="num">{{ f.row }}</td>
          <td>{{ f.customer }}</td>
          <td>{{ f.field }}</td>
          <td>{{ worded(f.fault) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <section v-if="doubles.length" class="doubles" :aria-label="t('customers.file.doubles')">
    <h2>{{ t(kept ? 'customers.file.leftOut' : 'customers.file.doubles') }}</h2>
    <ElCheckbox
      v-if="!kept && doubles.length > 1"
      :model-value="anyway.length === doubles.length"
      :indeterminate="anyway.length > 0 && anyway.length < doubles.length"
      @change="(all) => (anyway = all ? doubles.map((each) => each.row) : [])"
      >{{ t('customers.file.allOfThem') }}</ElCheckbox
    >
    <article v-for="row in doubles" :key="row.row">
      <ElCheckbox
        v-if="!kept"
        :model-value="anyway.includes(row.row)"
        @change="(own) => decide(row.row, Boolean(own))"
        >{{ t('customers.file.anyway', { name: row.name, row: row.row }) }}</ElCheckbox
      >
      <b v-else>{{ row.name }}</b>
      <LikelyList class="likely" :found="row.likely" />
      <p v-for="each in row.again" :key="each.row" class="likely">
        {{ t('customers.file.earlier', { row: each.row, name: each.name, why: why(each.why) }) }}
      </p>
    </article>
  </section>
  <div v-if="others.length" class="rows scroll">
    <table class="list">
      <thead>
        <tr>
          <th class="num">{{ t('desk.paste.row') }}</th>
          <th>{{ t('parts.customer.label') }}</th>
          <th>{{ t('customers.file.comes') }}</th>
          <th>{{ t('customers.file.with') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in others" :key="row.row">
          <td class="num">{{ row.row }}</td>
          <td>
            <RouterLink v-if="row.id" :to="`/customers/${row.id}`">{{ row.name }}</RouterLink>
            <template v-else>{{ row.name }}</template>
            <span class="soft number">{{ row.number }}</span>
          </td>
          <td>{{ t(`customers.file.state.${row.state}` as never) }}</td>
          <td class="soft">{{ brings(row) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.rows {
  max-height: 36vh;
  overflow: auto;
  margin: 8px 0;
}
.doubles {
  padding: 8px 14px;
  background: var(--amber-soft);
  max-height: 40vh;
  overflow: auto;
}
.number {
  margin-left: 8px;
}
th.num,
td.num {
  width: 60px;
}
.likely {
  padding-left: 24px;
}
</style>
