/** Filters that live in the address, so that they stay, can be shared and are taken back. */
import { computed, type WritableComputedRef } from 'vue'
import { useRoute, useRouter, type LocationQuery } from 'vue-router'

export function useFilters<K extends string>(
  defaults: Record<K, string>,
): {
  filters: Record<K, WritableComputedRef<string>>
  values: WritableComputedRef<Record<K, string>>
} {
  const route = useRoute()
  const router = useRouter()
  /** Where the address is on its way to: a second change starts from there. */
  let coming: LocationQuery | undefined

  function set(changes: Partial<Record<K, string>>): void {
    const now = coming ?? route.query
    const query: Record<string, string> = {}
    for (const key of Object.keys(defaults) as K[]) {
      const value = changes[key] ?? (now[key] as string | undefined) ?? defaults[key]
      if (value !== defaults[key]) query[key] = value
    }
    if (!('page' in changes)) delete query.page
    coming = query
    void router.replace({ query }).finally(() => {
      if (coming === query) coming = undefined
    })
  }

  const values = computed({
    get: () =>
      Object.fromEntries(
        (Object.keys(defaults) as K[]).map((key) => [
          key,
          (route.query[key] as string | undefined) ?? defaults[key],
        ]),
      ) as Record<K, string>,
    set,
  })
  const filters = Object.fromEntries(
    (Object.keys(defaults) as K[]).map((key) => [
      key,
      computed({
        get: () => values.value[key],
        set: (value: string) => set({ [key]: value } as Partial<Record<K, string>>),
      }),
    ]),
  ) as Record<K, WritableComputedRef<string>>
  return { filters, values }
}
