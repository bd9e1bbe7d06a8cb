<script setup lang="ts">
/** What a change would move: open quotes, and cases that are kept so that they do not. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import { count, figure } from '@/kit/format/format'

const props = defineProps<{ ahead: Shapes['PreviewOut'] }>()
const parts = computed(() => [
  {
    key: 'quotes',
    words: `${props.ahead.moved.length} of ${count(props.ahead.open_quotes, 'open quote')}`,
    rows: props.ahead.moved,
  },
  {
    key: 'cases',
    words: `${props.ahead.cases_moved.length} of ${count(props.ahead.kept_cases, 'kept case')}`,
    rows: props.ahead.cases_moved,
  },
])
</script>

<template>
  <div class="parts" role="status">
    <section v-for="part in parts" :key="part.key">
      <p>
        <b>{{ part.words }} would move.</b>
      </p>
      <table v-if="part.rows.length" class="list">
        <thead>
          <tr>
            <th />
            <th>Customer</th>
            <th class="num">Before</th>
            <th class="num">After</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in part.rows" :key="row.name">
            <td>
              <RouterLink v-if="row.revision_id" :to="`/quotes/${row.revision_id}`">{{
                row.name
              }}</RouterLink>
              <template v-else>{{ row.name }}</template>
            </td>
            <td>{{ row.customer }}</td>
            <td class="num soft">{{ row.before ? figure(row.before) : 'no price' }}</td>
            <td class="num">
              <b>{{ row.after ? figure(row.after) : 'no price' }}</b>
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
