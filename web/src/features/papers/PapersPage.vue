<script setup lang="ts">
/** The quote on paper: how it looks and what it says, tried on a real quote as one types. */
import { useQuery } from '@tanstack/vue-query'
import { watchDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { api, Fault, take, type Shapes } from '@/api/client'
import { moment } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { complain, say } from '@/kit/act/notices'
import { useFilters } from '@/kit/list/useFilters'

type Edition = Shapes['EditionOut']
type Paper = 'short' | 'detailed'
interface Template {
  look: Shapes['LookShape']
  wording: Record<string, Record<string, string>>
  source: string
}
const NAMES: Record<string, string> = { short: 'Short', detailed: 'Detailed' }
const LANGUAGES: Record<string, string> = { en: 'English', de: 'German' }
const COLUMNS: Record<string, string> = {
  code: 'Item code',
  unit: 'Unit',
  price: 'Price',
  discount: 'Discount',
  tax: 'Tax rate',
}
const SENTENCES: Record<string, string> = {
  opening: 'Above the lines',
  hold: 'Validity and payment',
  accept: 'How to accept',
  closing: 'At the end',
  brackets: 'What brackets mean',
}
const PARTS = [
  { key: 'trail', label: 'How each price came about' },
  { key: 'tax_rows', label: 'Each tax with its base' },
  { key: 'route', label: 'The route under the head' },
  { key: 'signature', label: 'Lines to sign on' },
] as const

const { filters, values } = useFilters({ paper: 'short', language: 'en' })
const { data, error, refetch } = useQuery({
  queryKey: ['papers'],
  queryFn: () => take(api.GET('/api/papers')),
  refetchOnWindowFocus: false,
})
const editions = computed<Edition[]>(
  () => data.value?.papers.find((p) => p.paper === values.value.paper)?.editions ?? [],
)
const now = computed(() => editions.value[0])
const form = ref<Template | null>(null)
const remark = ref('')
const pages = ref<string[]>([])
const fault = ref<Fault | null>(null)
const busy = ref(false)

/** Start from an edition; a copy, so that what is kept stays as it is. */
function start(edition: Edition | undefined): void {
  if (!edition) return
  const { look, wording, source } = JSON.parse(JSON.stringify(edition)) as Template
  const worded = Object.fromEntries(Object.keys(LANGUAGES).map((c) => [c, wording[c] ?? {}]))
  form.value = { look, wording: worded, source }
}
watch(now, start, { immediate: true })
const changed = computed(() => {
  if (!form.value || !now.value) return false
  const kept = {
    look: now.value.look,
    wording: trimmed(now.value.wording),
    source: now.value.source,
  }
  const typed = { ...form.value, wording: trimmed(form.value.wording) }
  return JSON.stringify(kept) !== JSON.stringify(typed)
})
function trimmed(wording: Template['wording']): Template['wording'] {
  const filled = Object.entries(wording).map(([code, said]) => [
    code,
    Object.fromEntries(Object.entries(said).filter(([, words]) => words.trim())),
  ])
  return Object.fromEntries(filled.filter(([, said]) => Object.keys(said ?? {}).length))
}

async function look(): Promise<void> {
  if (!form.value) return
  busy.value = true
  try {
    const body = { ...form.value, language: values.value.language }
    pages.value = (await take(api.POST('/api/papers/trial', { body }))).pages
    fault.value = null
  } catch (problem) {
    fault.value = problem instanceof Fault ? problem : null
  } finally {
    busy.value = false
  }
}
watchDebounced([form, () => values.value.language], look, { debounce: 350, deep: true })

async function keep(act: Promise<Edition>, words: string): Promise<void> {
  try {
    await act
    remark.value = ''
    await refetch()
    say(words)
  } catch (problem) {
    complain(problem)
  }
}
const path = computed(() => ({ params: { path: { paper: values.value.paper as Paper } } }))
const based = computed(() => now.value?.number ?? 0)
function save(): void {
  const body = { ...form.value!, based_on: based.value, remark: remark.value }
  void keep(
    take(api.POST('/api/papers/{paper}', { ...path.value, body })),
    'Kept; the next quote goes out like this.',
  )
}
function back(to: number): void {
  const body = { based_on: based.value, to }
  void keep(
    take(api.POST('/api/papers/{paper}/back', { ...path.value, body })),
    to ? `Edition ${to} counts again.` : 'The paper is as shipped again.',
  )
}
const facts = computed(() => (data.value?.facts ?? []).map((f) => '{' + f + '}').join(' '))
function toggleColumn(name: string): void {
  const all = data.value?.columns ?? []
  const on = form.value!.look.columns
  form.value!.look.columns = all.filter((c) => (c === name ? !on.includes(c) : on.includes(c)))
}
</script>

<template>
  <div class="page">
    <header class="top">
      <h1>Quote papers</h1>
      <div class="chips" role="group" aria-label="Paper">
        <button
          v-for="(name, key) in NAMES"
          :key="key"
          class="btn small"
          :aria-pressed="values.paper === key"
          @click="filters.paper.value = String(key)"
        >
          {{ name }}
        </button>
      </div>
    </header>
    <LoadState v-if="!data || !form" :error="error" @again="refetch()" />
    <div v-else class="halves">
      <form class="card" @submit.prevent="save">
        <div class="form">
          <label class="field"
            ><span>Accent</span
            ><input v-model="form.look.accent" class="input" type="color" name="accent"
          /></label>
          <label class="field"
            ><span>Type size</span>
            <select v-model="form.look.size" class="input" name="size">
              <option v-for="s in data.sizes" :key="s" :value="s">{{ s }} pt</option>
            </select></label
          >
        </div>
        <fieldset>
          <legend>Columns</legend>
          <label v-for="c in data.columns" :key="c"
            ><input
              type="checkbox"
              :checked="form.look.columns.includes(c)"
              @change="toggleColumn(c)"
            />
            {{ COLUMNS[c] ?? c }}</label
          >
        </fieldset>
        <fieldset>
          <legend>Parts</legend>
          <label v-for="p in PARTS" :key="p.key"
            ><input v-model="form.look[p.key]" type="checkbox" /> {{ p.label }}</label
          >
        </fieldset>
        <div class="chips words" role="group" aria-label="Language">
          <button
            v-for="(name, code) in LANGUAGES"
            :key="code"
            type="button"
            class="btn small"
            :aria-pressed="values.language === code"
            @click="filters.language.value = String(code)"
          >
            {{ name }}
          </button>
          <span class="soft">In braces can stand: {{ facts }}</span>
        </div>
        <label v-for="key in data.sentences" :key="key" class="field sentence"
          ><span>{{ SENTENCES[key] ?? key }}</span
          ><textarea
            v-model="form.wording[values.language]![key]"
            class="input"
            rows="2"
            maxlength="1000"
            :name="key"
            :placeholder="data.shipped_words[values.language]?.[key] || 'nothing'"
          />
        </label>
        <details :open="!!form.source">
          <summary>The layout itself, in typst</summary>
          <p class="soft">
            For those who write it. Empty means the layout that ships.
            <button
              v-if="!form.source"
              type="button"
              class="btn small"
              @click="form.source = data.shipped_layout"
            >
              Start from that one
            </button>
            <button v-else type="button" class="btn small" @click="form.source = ''">
              Use the one that ships
            </button>
          </p>
          <textarea
            v-if="form.source"
            v-model="form.source"
            class="input source"
            rows="18"
            spellcheck="false"
            aria-label="Layout"
          />
        </details>
        <p v-if="fault" class="fault" role="alert">{{ fault.message }}</p>
        <p class="acts">
          <input
            v-model="remark"
            class="input"
            maxlength="200"
            placeholder="What is new, if anything"
            aria-label="Remark"
          />
          <button class="btn act" :disabled="!changed || !!fault">
            Keep as edition {{ based + 1 }}
          </button>
          <button type="button" class="btn quiet" :disabled="!changed" @click="start(now)">
            Not now
          </button>
        </p>
        <h2>Editions</h2>
        <ol class="editions">
          <li v-for="(e, n) in editions" :key="e.number">
            <b>{{ e.number || 'Shipped' }}</b>
            <span class="soft">
              <template v-if="e.saved_at">{{ moment(e.saved_at) }}, {{ e.saved_by }}</template>
              {{ e.number ? e.remark : '' }}
            </span>
            <span v-if="n === 0" class="soft">counts now</span>
            <button v-else type="button" class="btn small" @click="back(e.number)">
              Go back to it
            </button>
          </li>
        </ol>
      </form>
      <section class="sheet" aria-label="How it looks" :aria-busy="busy">
        <img
          v-for="(page, n) in pages"
          :key="n"
          :src="`data:image/png;base64,${page}`"
          :alt="`Page ${n + 1} of a quote on this paper`"
        />
        <p v-if="!pages.length" class="soft">
          {{ fault?.message ?? 'A quote is being set on this paper…' }}
        </p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.top {
  display: flex;
  gap: 8px 18px;
  align-items: baseline;
  flex-wrap: wrap;
  margin-bottom: 10px;
}
.halves {
  display: grid;
  grid-template-columns: minmax(340px, 5fr) 6fr;
  gap: 16px;
  align-items: start;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 12px 0 0;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
}
legend {
  font-size: 12px;
  color: var(--ink-2);
  padding: 0 0 3px;
}
.words {
  margin: 14px 0 8px;
}
.sentence {
  margin-bottom: 8px;
}
.sentence textarea::placeholder {
  color: var(--ink-2);
}
details {
  margin-top: 6px;
}
summary {
  cursor: pointer;
}
.source {
  font-family: ui-monospace, monospace;
  font-size: 12px;
  white-space: pre;
}
input[type='color'] {
  padding: 2px;
}
.acts {
  display: flex;
  gap: 8px;
  margin: 12px 0;
}
.acts .input {
  flex: 1;
}
.editions li {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 3px 0;
}
.editions span:first-of-type {
  flex: 1;
}
.sheet {
  position: sticky;
  top: 10px;
  max-height: calc(100vh - 90px);
  overflow: auto;
  border: 1px solid var(--rule);
  background: var(--rule);
}
.sheet img {
  display: block;
  width: 100%;
  margin-bottom: 6px;
}
.sheet[aria-busy='true'] {
  opacity: 0.7;
}
@media (max-width: 900px) {
  .halves {
    grid-template-columns: 1fr;
  }
  .sheet {
    position: static;
    max-height: none;
  }
}
</style>
