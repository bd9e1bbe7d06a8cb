<script setup lang="ts">
/** Who set which target when; folded until somebody asks. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, take } from '@/api/client'
import { figure, moment, monthOf } from '@/kit/format/format'
import { t } from '@/words'

const open = ref(false)
const { data } = useQuery({
  queryKey: ['forecast', 'targets', 'changes'],
  queryFn: ({ signal }) => take(api.GET('/api/targets/changes', { signal })),
  enabled: open,
})
const of = (amount: string | null) => (amount === null ? '–' : figure(amount))
</script>

<template>
  <details class="changes" @toggle="open = ($event.target as HTMLDetailsElement).open">
    <summary>{{ t('forecast.targets.changes') }}</summary>
    <p v-if="data && !data.length" class="soft">{{ t('forecast.targets.noChanges') }}</p>
    <ul>
      <li v-for="(row, n) in data" :key="n">
        <b>{{ row.group ? `${row.owner}, ${row.group}` : row.owner }}</b> {{ monthOf(row.month) }}:
        {{ of(row.before) }} → {{ of(row.after) }}
        <span class="soft">{{ moment(row.at) }}, {{ row.who }}</span>
      </li>
    </ul>
  </details>
</template>

<style scoped>
.changes {
  margin-top: 8px;
}
summary {
  min-height: 24px;
  cursor: pointer;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
</style>
