<script setup lang="ts">
/** Customers that are likely the same, each with why. */
import type { Shapes } from '@/api/client'
import { maybe, t } from '@/words'

type Likely = Shapes['LikelyOut']
defineProps<{ found: Likely[] }>()
defineSlots<{ act?(row: { id: number }): unknown }>()
const why = (row: Likely) =>
  row.why.map((each) => maybe(`parts.customer.why.${each}`) ?? each).join(', ')
</script>

<template>
  <ul>
    <li v-for="row in found" :key="row.number">
      <RouterLink v-if="row.id" :to="`/customers/${row.id}`">{{ row.name }}</RouterLink>
      <b v-else>{{ row.name }}</b>
      <span class="soft"
        >{{ row.number }}{{ row.town ? `, ${row.town}` : '' }}
        <template v-if="!row.id">{{
          t('parts.customer.colleague', { name: row.owner })
        }}</template></span
      >
      <em>{{ why(row) }}</em>
      <slot v-if="row.id" :id="row.id" name="act" />
    </li>
  </ul>
</template>

<style scoped>
li {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  align-items: baseline;
  padding: 3px 0;
}
em {
  font-style: normal;
  font-weight: 600;
}
</style>
