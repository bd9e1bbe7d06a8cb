/** Filters that live in the address, so that they stay, can be shared and are taken back. */
import { computed, type WritableComputedRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'

export function useFilters<K extends string>(
  defaults: Record<K, string>,
): {
  filters: Record<K, WritableComputedRef<string>>
  values: WritableComputedRef<Record<K, string>>
} {
  const route = useRoute()
  const router = useRouter()

  function set(changes: Partial<Record<K, string>>): void {
    const query: Record<string, string> = {}
    for (const key of Object.keys(defaults) as K[]) {
      const value = changes[key] ?? (route.query[key] as string | undefined) ?? defaults[key]
      if (value !== defaults[key]) query[key] = value
    }
    if (!('page' in changes)) delete query.page
    void router.replace({ query })
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
