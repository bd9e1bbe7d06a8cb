<script setup lang="ts">
/** What came of a file of quotes: the refused rows, then the quotes that are good. */
import type { Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import { t, tn } from '@/words'
import { worded } from '@/words/refusals'

defineProps<{ report: Shapes['FilingOut'] }>()
</script>

<template>
  <div v-if="report.faults.length" class="rows">
    <table class="list">
      <thead>
        <tr>
          <th class="num">{{ t('desk.paste.row') }}</th>
          <th>{{ t('quotes.columns.quote') }}</th>
          <th>{{ t('quotes.file.column') }}</th>
          <th>{{ t('quotes.file.why') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(f, n) in report.faults" :key="n">
          <td class="num">{{ f.row }}</td>
          <td>{{ f.quote }}</td>
          <td>{{ f.field }}</td>
          <td>{{ worded(f.fault) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <div v-if="report.filed.length" class="rows">
    <table class="list">
      <thead>
        <tr>
          <th>{{ t('quotes.columns.quote') }}</th>
          <th>{{ t('parts.customer.label') }}</th>
          <th class="num">{{ t('desk.sums.lines') }}</th>
          <th class="num">{{ t('desk.sums.net') }}</th>
          <th />
          <th>{{ t('desk.paste.toLookAt') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="q in report.filed" :key="q.quote">
          <td>
            <RouterLink v-if="q.revision_id" :to="`/quotes/${q.revision_id}`">{{
              q.number
            }}</RouterLink>
            <template v-else>{{ q.quote }}</template>
            <span v-if="q.there" class="soft there">{{ t('quotes.file.there') }}</span>
          </td>
          <td>{{ q.customer }}</td>
          <td class="num">{{ q.lines }}</td>
          <td class="num">{{ figure(q.net) }}</td>
          <td class="soft">{{ q.currency }}</td>
          <td class="late">{{ q.to_look_at ? tn('quotes.file.lines', q.to_look_at) : '' }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.there {
  margin-left: 8px;
}
.rows {
  max-height: 34vh;
  overflow: auto;
  margin: 8px 0;
}
</style>
