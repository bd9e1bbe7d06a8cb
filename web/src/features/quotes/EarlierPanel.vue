<script setup lang="ts">
/** Lines from an earlier quote: of this customer first, or of any that is found by its number. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { count, day, figure } from '@/kit/format/format'
import StepPanel from '@/kit/step/StepPanel.vue'
import type { DeskLine, Kind } from '@/parts/line/line'

const props = defineProps<{ customer: number; revision: number; units: Record<string, string> }>()
const emit = defineEmits<{ insert: [rows: DeskLine[]]; close: [] }>()
const words = ref('')
const asked = refDebounced(words, 150)
const quotes = useQuery({
  queryKey: computed(() => ['earlier-quotes', props.customer, asked.value]),
  queryFn: () =>
    take(
      api.GET('/api/quotes', {
        params: {
          query: asked.value ? { words: asked.value } : { customer: props.customer },
        },
      }),
    ),
  placeholderData: (before) => before,
})
const others = computed(() =>
  (quotes.data.value?.rows ?? []).filter((row) => row.revision_id !== props.revision),
)
const picked = ref<number | null>(null)
watch(others, (rows) => {
  if (!rows.some((row) => row.revision_id === picked.value))
    picked.value = rows[0]?.revision_id ?? null
})
const source = useQuery({
  queryKey: computed(() => ['revision', picked.value ?? 0, 'lines']),
  queryFn: () =>
    take(
      api.GET('/api/revisions/{revision_id}', {
        params: { path: { revision_id: picked.value ?? 0 } },
      }),
    ),
  enabled: computed(() => picked.value !== null),
})
const lines = computed(() => source.data.value?.lines ?? [])
const wanted = ref(new Set<string>())
const asAgreed = ref(false)
watch(lines, (rows) => (wanted.value = new Set(rows.map((row) => row.key))))
const chosen = computed(() => lines.value.filter((row) => wanted.value.has(row.key)))
const all = computed({
  get: () => lines.value.length > 0 && chosen.value.length === lines.value.length,
  set: (on: boolean) => (wanted.value = new Set(on ? lines.value.map((row) => row.key) : [])),
})
const nets = computed(
  () => new Map(source.data.value?.priced.lines.map((line) => [line.id, line.net])),
)
function toggle(key: string): void {
  const next = new Set(wanted.value)
  if (!next.delete(key)) next.add(key)
  wanted.value = next
}
/** Fresh keys; an alternative keeps to its line where that comes along, else it stands alone. */
function insert(): void {
  const keys = new Map(chosen.value.map((row) => [row.key, crypto.randomUUID()]))
  const rows = chosen.value.map((row: Shapes['DeskLine']): DeskLine => {
    const original = keys.get(row.alternative_to) ?? ''
    const alone = row.kind === 'alternative' && !original
    return {
      ...row,
      key: keys.get(row.key) ?? '',
      kind: alone ? 'normal' : (row.kind as Kind),
      alternative_to: original,
      ...(asAgreed.value
        ? {}
        : { price: null, price_reason: '', discount_percent: null, discount_amount: null }),
    }
  })
  emit('insert', rows)
}
</script>

<template>
  <StepPanel title="Lines from an earlier quote" @close="$emit('close')" @go="insert">
    <div class="halves">
      <div>
        <input
          v-model="words"
          class="input"
          type="search"
          aria-label="Find a quote"
          placeholder="Of this customer; or find any by number or customer"
        />
        <ul aria-label="Quotes">
          <li v-for="q in others" :key="q.revision_id">
            <button
              type="button"
              :aria-pressed="q.revision_id === picked"
              @click="picked = q.revision_id"
            >
              <b>{{ q.number }} {{ q.letter }}</b> <span>{{ q.customer }}</span>
              <span class="soft">{{ day(q.on) }}</span>
              <span class="num">{{ figure(q.net) }} {{ q.currency }}</span>
            </button>
          </li>
        </ul>
        <p v-if="quotes.isSuccess.value && !others.length" class="soft">No other quote here.</p>
      </div>
      <div class="rows">
        <table v-if="lines.length" class="list">
          <thead>
            <tr>
              <th><input v-model="all" type="checkbox" aria-label="All lines" /></th>
              <th>Item</th>
              <th>What</th>
              <th class="num">Quantity</th>
              <th>Unit</th>
              <th class="num">Net then</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in lines" :key="row.key">
              <td>
                <input
                  type="checkbox"
                  :checked="wanted.has(row.key)"
                  :aria-label="`Take ${row.text}`"
                  @change="toggle(row.key)"
                />
              </td>
              <td class="soft">{{ row.item?.code }}</td>
              <td>{{ row.text }}</td>
              <td class="num">{{ figure(row.quantity) }}</td>
              <td>{{ units[row.unit] ?? row.unit }}</td>
              <td class="num">{{ figure(nets.get(row.key) ?? '') }}</td>
            </tr>
          </tbody>
        </table>
        <p v-else-if="picked && source.isSuccess.value" class="soft">This quote has no lines.</p>
      </div>
    </div>
    <button class="btn act" :disabled="!chosen.length">
      Add {{ count(chosen.length, 'line') }}
    </button>
    <label
      ><input v-model="asAgreed" type="checkbox" /> with the prices agreed by hand and the
      discounts</label
    >
    <span class="soft">All else is priced as of today.</span>
  </StepPanel>
</template>

<style scoped>
.halves {
  flex-basis: 100%;
  display: grid;
  grid-template-columns: minmax(300px, 2fr) 3fr;
  gap: 18px;
}
ul {
  margin-top: 6px;
  max-height: 34vh;
  overflow: auto;
}
li button {
  display: grid;
  grid-template-columns: auto 1fr auto auto;
  gap: 10px;
  width: 100%;
  border: 0;
  background: none;
  text-align: left;
  padding: 5px 8px;
  border-radius: 4px;
  cursor: pointer;
}
li button[aria-pressed='true'] {
  background: var(--amber-soft);
  box-shadow: inset 3px 0 0 var(--ink);
}
.rows {
  max-height: 40vh;
  overflow: auto;
}
@media (max-width: 820px) {
  .halves {
    grid-template-columns: 1fr;
  }
}
</style>
