<script setup lang="ts">
/** One kind of price record: found, exported, and (by an administrator) changed with a preview. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, Fault, take, type Shapes } from '@/api/client'
import { work } from '@/api/streams'
import EmptyState from '@/kit/show/EmptyState.vue'
import { count, day, figure, moment, todayIso } from '@/kit/format/format'
import ExportLinks from '@/kit/list/ExportLinks.vue'
import ListPages from '@/kit/list/ListPages.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { complain, say } from '@/kit/act/notices'
import SureButton from '@/kit/step/SureButton.vue'
import { me } from '@/api/session'
import MovedTables from './MovedTables.vue'

const props = defineProps<{ kind: Shapes['KindOut'] }>()
const words = defineModel<string>('words', { required: true })
const page = defineModel<string>('page', { required: true })
const client = useQueryClient()
const name = props.kind.name
const { data, error, refetch } = useQuery({
  queryKey: computed(() => ['price-records', name, words.value, page.value]),
  queryFn: () =>
    take(
      api.GET('/api/prices/records/{name}', {
        params: { path: { name }, query: { words: words.value, page: Number(page.value) || 1 } },
      }),
    ),
  placeholderData: (before) => before,
})
/** What is typed; what is counted is only shown. */
const typed = computed(() => props.kind.fields.filter((f) => f.kind !== 'told'))
const keeps = computed(() => me.value?.role === 'admin')
const open = ref<string | null>(null)
const form = ref<Record<string, string>>({})
const version = ref(1)
/** The day that the outlook is priced on: today, or when the change begins. */
const asOf = ref(todayIso())
const ahead = ref<Shapes['PreviewOut'] | null>(null)
const past = ref<Shapes['ChangeOut'][]>([])
const busy = ref(false)
/** Rows that are typed in one field, each as in its example. */
const TYPED: Record<string, string> = {
  tiers: 'from 100: 5 %; from 500: 8 %',
  packs: 'RL = 100; PF = 12000',
  taxes: 'VAT 20 %; Levy 5 % on running',
}

function edit(row: Shapes['RecordOut'] | null): void {
  open.value = row ? row.id : ''
  form.value = Object.fromEntries(typed.value.map((f) => [f.name, row?.values[f.name] ?? first(f)]))
  version.value = row?.version ?? 1
  const starts = form.value.valid_from ?? ''
  asOf.value = starts > todayIso() ? starts : todayIso()
  ahead.value = null
  fault.value = null
  past.value = []
}
/** A change that begins later is looked at from the day it begins. */
watch(
  () => form.value.valid_from,
  (starts) => (asOf.value = starts && starts > todayIso() ? starts : todayIso()),
)
function first(field: Shapes['FieldOut']): string {
  if (field.choices.length) return field.choices[0] ?? ''
  return (
    { per: '1', from_quantity: '0', currency: 'EUR', position: '1', factor: '1', active: 'yes' }[
      field.name
    ] ?? ''
  )
}
/** What the server refused, shown at its field. */
const fault = ref<Fault | null>(null)
function faultAt(path: string | undefined): string {
  const name = path?.split(/[.[]/)[0] ?? ''
  return props.kind.fields.some((f) => f.name === name) ? name : ''
}
async function act(what: () => Promise<unknown>): Promise<boolean> {
  busy.value = true
  fault.value = null
  try {
    await what()
    return true
  } catch (problem) {
    fault.value = problem instanceof Fault ? problem : null
    if (!faultAt(fault.value?.path)) complain(problem)
    return false
  } finally {
    busy.value = false
  }
}
const look = (gone = false) =>
  act(async () => {
    ahead.value = await take(
      api.POST('/api/prices/records/{name}/preview', {
        params: {
          path: { name },
          query: { record: open.value ?? '', on: asOf.value || undefined, gone },
        },
        body: { values: form.value, version: version.value },
      }),
    )
  })
async function save(): Promise<void> {
  const body = { values: form.value, version: version.value }
  const done = await act(() =>
    open.value
      ? take(
          api.PUT('/api/prices/records/{name}/{record_id}', {
            params: { path: { name, record_id: open.value } },
            body,
          }),
        )
      : take(api.POST('/api/prices/records/{name}', { params: { path: { name } }, body })),
  )
  if (!done) return
  open.value = null
  say('Saved; who changed what is kept.')
  await client.invalidateQueries({ queryKey: ['price-records'] })
}
/** What taking the record away would move, for the question. */
const without = computed(() => {
  if (!ahead.value) return 'Looking what would move…'
  const { moved, cases_moved: cases } = ahead.value
  const words = `${count(moved.length, 'open quote')} and ${count(cases.length, 'kept case')}`
  return `${words} would move. It cannot be had back.`
})
/** Counts what was refused: the question is closed then. */
const refused = ref(0)
async function lookGone(): Promise<void> {
  ahead.value = null
  if (!(await look(true))) refused.value += 1
}
async function remove(): Promise<void> {
  const done = await act(() =>
    take(
      api.DELETE('/api/prices/records/{name}/{record_id}', {
        params: { path: { name, record_id: open.value ?? '' } },
      }),
    ),
  )
  if (!done) return
  open.value = null
  await client.invalidateQueries({ queryKey: ['price-records'] })
}
const history = () =>
  act(async () => {
    past.value = await take(
      api.GET('/api/prices/history/{name}', {
        params: { path: { name }, query: { record: open.value ?? '' } },
      }),
    )
  })
const file = ref<File | null>(null)
const report = ref<Shapes['ReportOut'] | null>(null)

/** A file is tried first: what it would bring, and every row that is refused. */
function tryFile(event: Event): void {
  const input = event.target as HTMLInputElement
  file.value = input.files?.[0] ?? null
  input.value = ''
  if (file.value) void send(false)
}
async function takeIn(): Promise<void> {
  if (!(await send(true))) return
  say(`${count(report.value?.good ?? 0, 'row')} taken in.`)
  report.value = null
  await client.invalidateQueries({ queryKey: ['price-records'] })
}
const done = ref(0)
function send(keep: boolean): Promise<boolean> {
  return act(async () => {
    done.value = 0
    report.value = await work<Shapes['ReportOut']>(
      `/api/prices/import/${name}?keep=${keep}`,
      file.value!,
      (n) => (done.value = n),
    )
  })
}
/** The fields that say something on this page; the others would only widen it. */
const told = computed(() =>
  props.kind.fields.filter((f) => data.value?.rows.some((row) => row.values[f.name])),
)
function shown(field: Shapes['FieldOut'], value: string | null | undefined): string {
  if (numeric(field)) return figure(value)
  return field.kind === 'date' ? day(value) : (value ?? '')
}
function numeric(field: Shapes['FieldOut']): boolean {
  return field.kind === 'decimal' || field.kind === 'told'
}
</script>

<template>
  <div class="tools chips">
    <input
      class="input find"
      :value="words"
      :aria-label="`Find in ${kind.label}`"
      placeholder="Find by code, name or customer"
      @change="words = ($event.target as HTMLInputElement).value"
    />
    <button v-if="keeps" class="btn small" @click="edit(null)">Add one</button>
    <label v-if="keeps" class="btn small file"
      >Import a file<input type="file" accept=".csv,.xlsx" @change="tryFile"
    /></label>
    <ExportLinks :path="`/api/prices/files/${name}`" :values="{ words }" />
  </div>
  <p v-if="busy && file && done" class="soft" role="status">
    {{ count(done, 'row') }} of {{ file.name }} looked at…
  </p>
  <section v-if="report" class="card fold" role="status">
    <p>
      <b>{{ report.good }} of {{ count(report.rows, 'row') }} in {{ file?.name }} are good.</b>
      {{ report.faults.length ? 'The others are refused:' : '' }}
    </p>
    <ul class="faults">
      <li v-for="f in report.faults" :key="f.row">
        Row {{ f.row }}, {{ f.field }}: {{ f.message }}
      </li>
    </ul>
    <p class="acts">
      <button class="btn act" :disabled="busy || !report.good" @click="takeIn">
        Take in {{ count(report.good, 'row') }}
      </button>
      <button class="btn quiet" @click="report = null">Not now</button>
    </p>
  </section>
  <form v-if="open !== null" class="card fold" @submit.prevent="save">
    <div class="form">
      <div v-for="f in typed" :key="f.name" class="field" :class="{ wide: f.kind in TYPED }">
        <label :for="`field-${f.name}`">{{ f.label }}{{ f.needed ? '' : ', if any' }}</label>
        <select
          v-if="f.choices.length"
          :id="`field-${f.name}`"
          v-model="form[f.name]"
          class="input"
          :name="f.name"
        >
          <option v-for="c in f.choices" :key="c" :value="c">{{ c }}</option>
        </select>
        <select
          v-else-if="f.kind === 'flag'"
          :id="`field-${f.name}`"
          v-model="form[f.name]"
          class="input"
          :name="f.name"
        >
          <option value="no">no</option>
          <option value="yes">yes</option>
        </select>
        <input
          v-else
          :id="`field-${f.name}`"
          v-model="form[f.name]"
          class="input"
          :name="f.name"
          :type="f.kind === 'date' ? 'date' : 'text'"
          :placeholder="TYPED[f.kind] ?? ''"
          :aria-invalid="faultAt(fault?.path) === f.name"
          :aria-describedby="faultAt(fault?.path) === f.name ? `fault-${f.name}` : undefined"
        />
        <small
          v-if="faultAt(fault?.path) === f.name"
          :id="`fault-${f.name}`"
          class="fault"
          role="alert"
          >{{ fault?.message }}</small
        >
      </div>
    </div>
    <p class="acts">
      <button type="button" class="btn" :disabled="busy" @click="look()">What would move?</button>
      <label class="day"
        ><span class="soft">priced on</span>
        <input v-model="asOf" class="input" type="date" aria-label="Priced on"
      /></label>
      <button class="btn act" :disabled="busy">Save</button>
      <button v-if="open" type="button" class="btn" :disabled="busy" @click="history">
        Who changed it
      </button>
      <SureButton
        v-if="open"
        :key="refused"
        label="Take away…"
        large
        :question="without"
        act="Take it away"
        :disabled="busy"
        @ask="lookGone"
        @go="remove"
      />
      <button type="button" class="btn quiet" @click="open = null">Not now</button>
    </p>
    <MovedTables v-if="ahead" :ahead="ahead" />
    <ul v-if="past.length">
      <li v-for="(c, n) in past" :key="n" class="soft">
        {{ moment(c.at) }}, {{ c.who }}: {{ c.field }} {{ c.before || '—' }} → {{ c.after || '—' }}
      </li>
    </ul>
  </form>
  <LoadState v-if="!data" :error="error" @again="refetch()" />
  <section v-else class="card scroll" tabindex="0" role="region" :aria-label="kind.label">
    <EmptyState v-if="!data.rows.length" title="Nothing here yet"
      >What is agreed of this kind stands here.</EmptyState
    >
    <table v-else class="list">
      <thead>
        <tr>
          <th v-for="f in told" :key="f.name" :class="{ num: numeric(f) }">{{ f.label }}</th>
          <th v-if="keeps" class="end" />
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in data.rows" :key="row.id" :class="{ now: row.id === open }">
          <td v-for="f in told" :key="f.name" :class="{ num: numeric(f) }">
            {{ shown(f, row.values[f.name]) }}
          </td>
          <td v-if="keeps" class="end">
            <button class="btn small" @click="edit(row)">Change</button>
          </td>
        </tr>
      </tbody>
    </table>
    <ListPages v-model="page" :pages="data.pages" />
  </section>
</template>

<style scoped>
.scroll .list :is(td, th) {
  padding-inline: 4px;
}
.tools {
  margin-bottom: 10px;
}
.find {
  width: 270px;
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
.faults {
  max-height: 200px;
  overflow: auto;
}
.end {
  position: sticky;
  right: 0;
  background: var(--sheet);
}
.now .end {
  background: var(--amber-soft);
}
.wide {
  grid-column: span 2;
}
.acts {
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
  margin: 10px 0;
}
.input[aria-invalid='true'] {
  border-color: var(--red);
}
.day {
  display: flex;
  align-items: center;
  gap: 6px;
}
.day .input {
  width: auto;
}
.list td {
  white-space: nowrap;
}
.now {
  background: var(--amber-soft);
}
form {
  margin-bottom: 12px;
}
</style>
