<script setup lang="ts">
/** Quotes from a file: tried first, then made; every refused row with its place. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { work } from '@/api/streams'
import { count, figure } from '@/kit/format/format'
import { complain, say } from '@/kit/act/notices'

const emit = defineEmits<{ close: []; made: [] }>()
const { data: columns } = useQuery({
  queryKey: ['quote-file-columns'],
  queryFn: () => take(api.GET('/api/quotes/import')),
  staleTime: Infinity,
})
const file = ref<File | null>(null)
const report = ref<Shapes['FilingOut'] | null>(null)
const done = ref(0)
const busy = ref(false)
const made = ref(false)

function choose(event: Event): void {
  const input = event.target as HTMLInputElement
  file.value = input.files?.[0] ?? null
  input.value = ''
  if (file.value) void send(false)
}
async function send(keep: boolean): Promise<void> {
  if (!file.value) return
  busy.value = true
  done.value = 0
  made.value = false
  try {
    report.value = await work<Shapes['FilingOut']>(
      `/api/quotes/import?keep=${keep}`,
      file.value,
      (n) => (done.value = n),
    )
    if (keep) {
      made.value = true
      say(`${count(report.value.filed.length, 'draft')} made.`)
      emit('made')
    }
  } catch (fault) {
    report.value = null
    complain(fault)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <section class="card fold" aria-label="Quotes from a file">
    <p class="chips">
      <label class="btn act file" :class="{ busy }"
        >Choose a file<input type="file" accept=".csv,.xlsx" :disabled="busy" @change="choose"
      /></label>
      <a class="btn small" href="/api/quotes/template.xlsx">Template (XLSX)</a>
      <a class="btn small" href="/api/quotes/template.csv">Template (CSV)</a>
      <button class="btn quiet" @click="$emit('close')">Not now</button>
    </p>
    <p v-if="busy" role="status">
      {{ file?.name }}: {{ done ? `${count(done, 'quote')} looked at…` : 'being read…' }}
    </p>
    <details v-if="!report" open>
      <summary>One row is one line; rows with the same word under Quote are one quote</summary>
      <dl>
        <template v-for="c in columns ?? []" :key="c.heading">
          <dt>{{ c.heading }}</dt>
          <dd>{{ c.holds }}</dd>
        </template>
      </dl>
    </details>
    <template v-else>
      <p role="status">
        <b
          >{{ report.filed.length }} of {{ count(report.quotes, 'quote') }} in {{ file?.name }}
          {{ made ? 'are drafts now' : 'are good' }}.</b
        >
        {{ report.faults.length ? 'A quote with a refused row is not made at all:' : '' }}
      </p>
      <div v-if="report.faults.length" class="rows">
        <table class="list">
          <thead>
            <tr>
              <th class="num">Row</th>
              <th>Quote</th>
              <th>Column</th>
              <th>Why it is refused</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(f, n) in report.faults" :key="n">
              <td class="num">{{ f.row }}</td>
              <td>{{ f.quote }}</td>
              <td>{{ f.field }}</td>
              <td>{{ f.message }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <div v-if="report.filed.length" class="rows">
        <table class="list">
          <thead>
            <tr>
              <th>Quote</th>
              <th>Customer</th>
              <th class="num">Lines</th>
              <th class="num">Net</th>
              <th />
              <th>To look at</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="q in report.filed" :key="q.quote">
              <td>
                <RouterLink v-if="q.revision_id" :to="`/quotes/${q.revision_id}`">{{
                  q.number
                }}</RouterLink>
                <template v-else>{{ q.quote }}</template>
              </td>
              <td>{{ q.customer }}</td>
              <td class="num">{{ q.lines }}</td>
              <td class="num">{{ figure(q.net) }}</td>
              <td class="soft">{{ q.currency }}</td>
              <td class="late">{{ q.to_look_at ? count(q.to_look_at, 'line') : '' }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-if="!made">
        <button class="btn act" :disabled="busy || !report.filed.length" @click="send(true)">
          Make {{ count(report.filed.length, 'draft') }}
        </button>
      </p>
    </template>
  </section>
</template>

<style scoped>
.fold {
  margin: 10px 0;
}
.chips {
  margin-bottom: 8px;
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 2px 14px;
  margin: 8px 0 0;
}
dt {
  font-weight: 600;
}
dd {
  margin: 0;
}
.rows {
  max-height: 34vh;
  overflow: auto;
  margin: 8px 0;
}
.file {
  position: relative;
}
.file input {
  position: absolute;
  width: 1px;
  opacity: 0;
}
.file:focus-within {
  outline: 2px solid var(--focus);
  outline-offset: 2px;
}
.busy {
  opacity: 0.5;
}
</style>
