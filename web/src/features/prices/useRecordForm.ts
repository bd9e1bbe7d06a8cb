/** A price record as it is changed: its values, what the change would move, and its acts. */
import { computed, ref, shallowRef, watch } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { asFault } from '@/api/fault'
import { complain, say } from '@/kit/act/notices'
import { todayIso } from '@/kit/format/format'
import { t } from '@/words'
import type { Field, Kind, PriceRecord } from './queries'

/** What a new record starts with. */
const FIRST: Record<string, string> = {
  per: '1',
  from_quantity: '0',
  position: '1',
  factor: '1',
  active: 'yes',
}

export function useRecordForm(kind: Kind, record: PriceRecord | null, currency: string) {
  const { name } = kind
  const typed = kind.fields.filter((field) => field.kind !== 'told')
  const first = (field: Field) =>
    field.choices[0] ?? FIRST[field.name] ?? (field.name === 'currency' ? currency : '')
  const form = ref(
    Object.fromEntries(typed.map((f) => [f.name, record?.values[f.name] ?? (record ? '' : first(f))])), // prettier-ignore
  )
  const later = () => {
    const starts = form.value.valid_from ?? ''
    return starts > todayIso() ? starts : todayIso()
  }
  /** The day that the preview is priced on: today, or when the change begins. */
  const asOf = ref<string | null>(later())
  const ahead = shallowRef<Shapes['PreviewOut'] | null>(null)
  const past = shallowRef<Shapes['ChangeOut'][] | null>(null)
  const busy = ref(false)
  const fault = shallowRef<ReturnType<typeof asFault> | null>(null)
  let asked = 0
  // A preview is of what stood there when it was asked for, and of nothing else.
  watch(
    [form, asOf],
    () => {
      asked += 1
      ahead.value = null
      fault.value = null
    },
    { deep: true },
  )
  watch(
    () => form.value.valid_from,
    () => (asOf.value = later()),
  )
  const fieldOf = (path: string) => path.split(/[.[]/)[0] ?? ''
  const faultAt = (field: string) =>
    fault.value && fieldOf(fault.value.path) === field ? fault.value.message : ''

  async function act<T>(what: () => Promise<T>): Promise<T | undefined> {
    if (busy.value) return undefined
    busy.value = true
    fault.value = null
    try {
      return await what()
    } catch (problem) {
      fault.value = asFault(problem)
      if (!typed.some((f) => f.name === fieldOf(asFault(problem).path))) complain(problem)
      return undefined
    } finally {
      busy.value = false
    }
  }
  const body = computed(() => ({ values: form.value, version: record?.version ?? 1 }))
  /** What the change, or taking the record away, would move. */
  async function look(gone = false): Promise<boolean> {
    const mine = (asked += 1)
    const query = { record: record?.id ?? '', on: asOf.value ?? undefined, gone }
    const found = await act(() =>
      take(
        api.POST('/api/prices/records/{name}/preview', {
          params: { path: { name }, query },
          body: body.value,
        }),
      ),
    )
    if (found && mine === asked) ahead.value = found
    return found !== undefined
  }
  async function save(): Promise<boolean> {
    const done = await act(() =>
      record
        ? take(
            api.PUT('/api/prices/records/{name}/{record_id}', {
              params: { path: { name, record_id: record.id } },
              body: body.value,
            }),
          )
        : take(
            api.POST('/api/prices/records/{name}', {
              params: { path: { name } },
              body: body.value,
            }),
          ),
    )
    if (done !== undefined) say(t('prices.saved'))
    return done !== undefined
  }
  async function remove(): Promise<boolean> {
    const done = await act(async () => {
      const path = { name, record_id: record?.id ?? '' }
      const query = { version: record?.version ?? 0 }
      await take(api.DELETE('/api/prices/records/{name}/{record_id}', { params: { path, query } }))
      return true
    })
    return done ?? false
  }
  async function history(): Promise<void> {
    const params = { path: { name }, query: { record: record?.id ?? '' } }
    past.value = (await act(() => take(api.GET('/api/prices/history/{name}', { params })))) ?? null
  }
  return { typed, form, asOf, ahead, past, busy, faultAt, look, save, remove, history }
}
