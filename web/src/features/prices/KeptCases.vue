<script setup lang="ts">
/** Cases that must not move: kept from quotes or files, run against the prices as they are. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { work } from '@/api/streams'
import EmptyState from '@/kit/show/EmptyState.vue'
import { count, day, figure } from '@/kit/format/format'
import ListPages from '@/kit/list/ListPages.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { complain, say } from '@/kit/act/notices'
import SureButton from '@/kit/step/SureButton.vue'

const words = defineModel<string>('words', { required: true })
const page = defineModel<string>('page', { required: true })
const client = useQueryClient()
const { data, error, refetch } = useQuery({
  queryKey: computed(() => ['kept-cases', words.value, page.value]),
  queryFn: () =>
    take(
      api.GET('/api/prices/cases', {
        params: { query: { words: words.value, page: Number(page.value) || 1 } },
      }),
    ),
  placeholderData: (before) => before,
})
const busy = ref(false)
const done = ref(0)
const found = ref<Shapes['RunsOut'] | null>(null)
const runs = computed(() => new Map(found.value?.runs.map((run) => [run.case_id, run])))

async function act(what: () => Promise<unknown>): Promise<void> {
  busy.value = true
  try {
    await what()
  } catch (fault) {
    complain(fault)
  } finally {
    busy.value = false
  }
}
const run = () =>
  act(async () => {
    done.value = 0
    found.value = await work<Shapes['RunsOut']>('/api/prices/cases/run', null, (n) => {
      done.value = n
    })
  })
const changed = () => client.invalidateQueries({ queryKey: ['kept-cases'] })
function chooseFile(event: Event): void {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  void act(async () => {
    const body = new FormData()
    body.append('file', file)
    const kept = await take(
      api.POST('/api/prices/cases', {
        body: { file: '' },
        bodySerializer: () => body,
      }),
    )
    say(`${count(kept.length, 'case')} kept.`)
    await changed()
  })
}
const expectAnew = (id: number) =>
  act(async () => {
    await take(
      api.POST('/api/prices/cases/{case_id}/expect', { params: { path: { case_id: id } } }),
    )
    await changed()
    await run()
  })
const letGo = (row: Shapes['CaseOut']) =>
  act(async () => {
    await take(api.DELETE('/api/prices/cases/{case_id}', { params: { path: { case_id: row.id } } }))
    await changed()
  })
function verdict(id: number): string {
  const seen = runs.value.get(id)
  if (!found.value) return ''
  if (!seen) return 'holds'
  return seen.fault ? 'cannot be run' : `${count(seen.differences.length, 'figure')} moved`
}
</script>

<template>
  <div class="tools chips">
    <input
      class="input find"
      :value="words"
      aria-label="Find a case"
      placeholder="Find by name or customer"
      @change="words = ($event.target as HTMLInputElement).value"
    />
    <button class="btn small" :disabled="busy || !data?.count" @click="run">Run them all</button>
    <label class="btn small file"
      >Keep from a file<input type="file" accept=".json" :disabled="busy" @change="chooseFile"
    /></label>
    <span role="status" class="soft">
      <template v-if="busy && done">{{ done }} of {{ data?.count }} run…</template>
      <template v-else-if="found">
        {{ found.cases - found.runs.length }} of {{ count(found.cases, 'case') }} hold.
      </template>
    </span>
  </div>
  <LoadState v-if="!data" :error="error" @again="refetch()" />
  <section v-else class="card scroll" tabindex="0" role="region" aria-label="Kept cases">
    <EmptyState v-if="!data.rows.length" title="No case is kept yet"
      >A case is a quote whose prices must hold when prices change. Keep one from a quote, under
      More, or from a price case file. Every outlook on a change runs them.</EmptyState
    >
    <table v-else class="list">
      <thead>
        <tr>
          <th>Case</th>
          <th>Customer</th>
          <th>As of</th>
          <th class="num">Lines</th>
          <th class="num">Net</th>
          <th class="num">Payable</th>
          <th />
          <th>Kept by</th>
          <th>Last run</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <template v-for="row in data.rows" :key="row.id">
          <tr>
            <td>
              <b>{{ row.name }}</b>
            </td>
            <td>{{ row.customer }}</td>
            <td>{{ day(row.on) }}</td>
            <td class="num">{{ row.lines }}</td>
            <td class="num">{{ figure(row.net) }}</td>
            <td class="num">{{ figure(row.payable) }}</td>
            <td class="soft">{{ row.currency }}</td>
            <td>{{ row.kept_by }}</td>
            <td :class="{ late: runs.has(row.id) }">{{ verdict(row.id) }}</td>
            <td>
              <SureButton
                label="Let go…"
                question="It runs no more."
                act="Let it go"
                :disabled="busy"
                @go="letGo(row)"
              />
            </td>
          </tr>
          <tr v-if="runs.has(row.id)">
            <td colspan="10" class="fold">
              <p v-if="runs.get(row.id)?.fault">{{ runs.get(row.id)?.fault }}</p>
              <ul v-else>
                <li v-for="d in runs.get(row.id)?.differences" :key="d.where">
                  {{ d.where }}: {{ figure(d.expected) }} is expected, {{ figure(d.found) }} found
                </li>
              </ul>
              <button
                v-if="!runs.get(row.id)?.fault"
                class="btn small"
                :disabled="busy"
                @click="expectAnew(row.id)"
              >
                This is right: expect it from now on
              </button>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <ListPages v-model="page" :pages="data.pages" />
  </section>
</template>

<style scoped>
.tools {
  margin-bottom: 10px;
}
.find {
  width: 270px;
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
</style>
