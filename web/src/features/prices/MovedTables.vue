<script setup lang="ts">
/** What a change would move: open quotes, and cases that are kept so that they do not. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import { t, tn } from '@/words'

const props = defineProps<{ ahead: Shapes['PreviewOut'] }>()
const parts = computed(() => {
  const { moved, open_quotes: quotes, cases_moved: cases, kept_cases: kept } = props.ahead
  return [
    { key: 'quotes', words: tn('prices.moved.quotes', quotes, { moved: moved.length }), rows: moved }, // prettier-ignore
    { key: 'cases', words: tn('prices.moved.cases', kept, { moved: cases.length }), rows: cases },
  ]
})
const shown = (amount: string | null) => (amount ? figure(amount) : t('prices.moved.noPrice'))
</script>

<template>
  <div class="parts" role="status">
    <section v-for="part in parts" :key="part.key">
      <p>
        <b>{{ part.words }}</b>
      </p>
      <table v-if="part.rows.length" class="list">
        <thead>
          <tr>
            <th />
            <th>{{ t('parts.customer.label') }}</th>
            <th class="num">{{ t('prices.moved.before') }}</th>
            <th class="num">{{ t('prices.moved.after') }}</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, n) in part.rows" :key="n">
            <td>
              <RouterLink v-if="row.revision_id" :to="`/quotes/${row.revision_id}`">{{
                row.name
              }}</RouterLink>
              <template v-else>{{ row.name }}</template>
            </td>
            <td>{{ row.customer }}</td>
            <td class="num soft">{{ shown(row.before) }}</td>
            <td class="num">
              <b>{{ shown(row.after) }}</b>
            </td>
            <td class="soft">{{ row.currency }}</td>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
</template>

<style scoped>
.parts {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(380px, 1fr));
  gap: 8px 28px;
}
section {
  max-height: 40vh;
  overflow: auto;
}
</style>
