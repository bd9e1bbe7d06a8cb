<script setup lang="ts">
/** What everybody is to win, month by month; typed down a column by those who set it. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, useTemplateRef } from 'vue'
import { api, take } from '@/api/client'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { useKeptForm } from '@/kit/draft/useKeptForm'
import { figure } from '@/kit/format/format'
import { readNumber } from '@/kit/format/readNumber'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'
import { monthName } from './months'
import { cellOf, changesOf, pasted, type Typed } from './targets'
import TargetChanges from './TargetChanges.vue'

const emit = defineEmits<{ close: [] }>()
const client = useQueryClient()
const { data, error, refetch } = useQuery({
  queryKey: ['forecast', 'targets'],
  queryFn: ({ signal }) => take(api.GET('/api/targets', { signal })),
})
const { form, clear } = useKeptForm<Typed>(me.value?.id ?? 0, 'targets', 1, () => ({}))
const table = useTemplateRef<HTMLElement>('table')
const said = ref('')
const { busy, run } = useAct((fault) => {
  if (fault.status === 409) void refetch()
})
const change = computed(() => (data.value ? changesOf(data.value, form.value) : null))
const months = computed(() => data.value?.months ?? [])
const shortOf = (month: string) => monthName(month.slice(0, 7)).replace(/^(\p{L}{3})\p{L}*/u, '$1')
function labelOf(cell: string): { name: string; month: string } {
  const [id = '', month = ''] = cell.split(' ')
  const person = data.value?.people.find((each) => each.id === Number(id))
  return { name: person?.name ?? '', month: monthName(month.slice(0, 7)) }
}
function type(cell: string, event: Event): void {
  form.value = { ...form.value, [cell]: (event.target as HTMLInputElement).value }
  said.value = ''
}
function paste(cell: string, event: ClipboardEvent): void {
  const text = event.clipboardData?.getData('text/plain') ?? ''
  if (!data.value || !/[\t\n]/.test(text.trim())) return
  event.preventDefault()
  form.value = { ...form.value, ...pasted(data.value, cell, text) }
}
const factor = ref('1')
const fill = (of: 'targets' | 'won') =>
  run(async () => {
    const read = readNumber(factor.value)
    if (!read || !('value' in read)) {
      said.value = t('forecast.targets.noFactor')
      return
    }
    const query = { factor: read.value, of }
    const rows = await take(api.GET('/api/targets/proposed', { params: { query } }))
    said.value = rows.length ? '' : t('forecast.targets.nothingBefore')
    const more = rows.map((row) => [cellOf(row.owner_id, row.month), figure(row.amount)] as const)
    form.value = { ...form.value, ...Object.fromEntries(more) }
  })
function key(event: KeyboardEvent): void {
  const step = event.key === 'ArrowUp' ? -1 : ['Enter', 'ArrowDown'].includes(event.key) ? 1 : 0
  if (!step || event.ctrlKey || event.altKey) return
  event.preventDefault()
  const cells = [...(table.value?.querySelectorAll('input') ?? [])]
  const next = cells[cells.indexOf(event.target as HTMLInputElement) + step * months.value.length]
  next?.focus()
  next?.select()
}
const keep = () =>
  run(async () => {
    if (!change.value) return
    const { rows, unread } = change.value
    if (unread) {
      said.value = t('forecast.targets.unread', labelOf(unread))
      return
    }
    if (rows.length) await take(api.PUT('/api/targets', { body: { rows } }))
    clear()
    await client.invalidateQueries({ queryKey: ['forecast'] })
    say(t('forecast.targets.kept'))
    emit('close')
  })
</script>

<template>
  <section class="card targets" :aria-label="t('forecast.targets.title')">
    <header>
      <h2>{{ t('forecast.targets.title') }}</h2>
      <span class="soft">{{ t('forecast.targets.hint', { currency: data?.currency ?? '' }) }}</span>
    </header>
    <LoadState v-if="!data" :error="error" :rows="3" @again="refetch()" />
    <form v-else @submit.prevent="keep" @keydown.esc="emit('close')">
      <div class="scroll">
        <table ref="table" class="list">
          <thead>
            <tr>
              <th>{{ t('forecast.targets.who') }}</th>
              <th v-for="month in months" :key="month" class="num">{{ shortOf(month) }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="person in data.people" :key="person.id">
              <td class="who">{{ person.name }}</td>
              <td v-for="row in person.targets" :key="row.month" class="num">
                <input
                  v-if="data.may_set"
                  inputmode="decimal"
                  :value="
                    form[cellOf(person.id, row.month)] ?? (row.amount ? figure(row.amount) : '')
                  "
                  :aria-label="t('forecast.targets.of', labelOf(cellOf(person.id, row.month)))"
                  @input="type(cellOf(person.id, row.month), $event)"
                  @keydown="key"
                  @paste="paste(cellOf(person.id, row.month), $event)"
                />
                <template v-else>{{ figure(row.amount) }}</template>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-if="said" class="fault" role="alert">{{ said }}</p>
      <div class="foot">
        <ElButton v-if="data.may_set" type="primary" native-type="submit" :loading="busy">{{
          t('forecast.targets.keep')
        }}</ElButton>
        <ElButton text @click="emit('close')">{{ t('kit.step.notYet') }}</ElButton>
        <span v-if="data.may_set" class="fill">
          {{ t('forecast.targets.fill') }}
          <ElInput
            v-model="factor"
            size="small"
            class="factor"
            inputmode="decimal"
            :aria-label="t('forecast.targets.factor')"
            @keydown.enter.prevent="fill('targets')"
          />
          <ElButton size="small" :disabled="busy" @click="fill('targets')">{{
            t('forecast.targets.ofTargets')
          }}</ElButton>
          <ElButton size="small" :disabled="busy" @click="fill('won')">{{
            t('forecast.targets.ofWon')
          }}</ElButton>
        </span>
      </div>
    </form>
    <TargetChanges />
  </section>
</template>

<style scoped>
.targets {
  margin-top: 12px;
}
input {
  width: 84px;
  text-align: right;
}
.who {
  white-space: nowrap;
}
.foot {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
  margin-top: 8px;
}
.fill {
  display: flex;
  gap: 6px;
  align-items: center;
  margin-left: auto;
}
.factor {
  width: 70px;
}
</style>
