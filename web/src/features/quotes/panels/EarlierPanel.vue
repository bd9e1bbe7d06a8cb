<script setup lang="ts">
/** Lines from an earlier quote: of this customer first, or of any that is found by its number. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { api, take } from '@/api/client'
import { day, figure } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import StepPanel from '@/kit/step/StepPanel.vue'
import type { DeskLine } from '@/parts/line/line'
import { t, tn } from '@/words'
import { revisionQuery } from '@/features/quotes/queries'
import { copied } from './copiedLines'

const props = defineProps<{ customer: number; revision: number; units: Record<string, string> }>()
const emit = defineEmits<{ insert: [rows: DeskLine[]]; close: [] }>()
const words = ref('')
const asked = refDebounced(words, 150)
const quotes = useQuery({
  queryKey: computed(() => ['earlier-quotes', props.customer, asked.value]),
  queryFn: () =>
    take(
      api.GET('/api/quotes', {
        params: { query: asked.value ? { words: asked.value } : { customer: props.customer } },
      }),
    ),
  placeholderData: (before) => before,
})
const others = computed(() =>
  (quotes.data.value?.rows ?? []).filter((row) => row.revision_id !== props.revision),
)
const picked = ref<number | null>(null)
watch(
  others,
  (rows) => {
    if (rows.some((row) => row.revision_id === picked.value)) return
    picked.value = rows[0]?.revision_id ?? null
  },
  { immediate: true },
)
const source = useQuery(
  computed(() => ({ ...revisionQuery(picked.value ?? 0), enabled: picked.value !== null })),
)
const lines = computed(() => (picked.value === null ? [] : (source.data.value?.lines ?? [])))
const wanted = ref(new Set<string>())
const asAgreed = ref(false)
watch(lines, (rows) => (wanted.value = new Set(rows.map((row) => row.key))), { immediate: true })
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
</script>

<template>
  <StepPanel
    :title="t('desk.earlier.title')"
    @close="emit('close')"
    @go="chosen.length && emit('insert', copied(chosen, asAgreed))"
  >
    <div class="halves">
      <div>
        <ElInput
          v-model="words"
          type="search"
          :aria-label="t('desk.earlier.find')"
          :placeholder="t('desk.earlier.findHint')"
        />
        <LoadState
          v-if="quotes.error.value"
          :error="quotes.error.value"
          @again="quotes.refetch()"
        />
        <ul v-else :aria-label="t('desk.earlier.quotes')">
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
        <p v-if="quotes.isSuccess.value && !others.length" class="soft">
          {{ t('desk.earlier.noQuote') }}
        </p>
      </div>
      <div class="rows">
        <LoadState
          v-if="source.error.value"
          :error="source.error.value"
          @again="source.refetch()"
        />
        <table v-else-if="lines.length" class="list">
          <thead>
            <tr>
              <th>
                <input v-model="all" type="checkbox" :aria-label="t('desk.earlier.all')" />
              </th>
              <th>{{ t('desk.grid.item') }}</th>
              <th>{{ t('desk.grid.what') }}</th>
              <th class="num">{{ t('desk.grid.quantity') }}</th>
              <th>{{ t('desk.grid.unit') }}</th>
              <th class="num">{{ t('desk.earlier.netThen') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in lines" :key="row.key">
              <td>
                <input
                  type="checkbox"
                  :checked="wanted.has(row.key)"
                  :aria-label="t('desk.earlier.take', { what: row.text })"
                  @change="toggle(row.key)"
                />
              </td>
              <td class="soft">{{ row.item?.code }}</td>
              <td>{{ row.text }}</td>
              <td class="num">{{ figure(row.quantity) }}</td>
              <td>{{ units[row.unit] ?? row.unit }}</td>
              <td class="num">{{ figure(nets.get(row.key)) }}</td>
            </tr>
          </tbody>
        </table>
        <p v-else-if="picked && source.isSuccess.value" class="soft">
          {{ t('desk.earlier.noLines') }}
        </p>
      </div>
    </div>
    <ElButton type="primary" native-type="submit" :disabled="!chosen.length">
      {{ tn('desk.earlier.act', chosen.length) }}
    </ElButton>
    <ElCheckbox v-model="asAgreed">{{ t('desk.earlier.asAgreed') }}</ElCheckbox>
    <span class="soft">{{ t('desk.earlier.asOfToday') }}</span>
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
