/** Another depot for a line, as a link proposed it: the change of the order opens with it, once. */
import { ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

export function useProposed(open: () => void) {
  const route = useRoute()
  const router = useRouter()
  const proposed = ref<{ line: number; depot: number } | null>(null)
  watch(
    () => route.query,
    ({ line, depot }) => {
      if (!Number(line) || !Number(depot)) return
      proposed.value = { line: Number(line), depot: Number(depot) }
      open()
      void router.replace({ query: {}, hash: route.hash })
    },
    { immediate: true },
  )
  return proposed
}
