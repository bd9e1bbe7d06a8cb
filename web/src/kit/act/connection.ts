/** Whether what is shown is fresh: a question that fails behind shown figures makes them stale. */
import { computed, ref } from 'vue'

const since = ref<number | null>(null)

/** When the stale figures on the screen were fetched; null while all are fresh. */
export const staleSince = computed(() => since.value)

/** A question failed whose earlier answer, fetched at `fetchedAt`, is still shown. */
export function noteStale(fetchedAt: number): void {
  since.value = since.value === null ? fetchedAt : Math.min(since.value, fetchedAt)
}
/** A question was answered: the server is there again. */
export function noteFresh(): void {
  since.value = null
}
