/** Whether an issued quote is written about at once: said where it is issued, kept for the next one. */
import { useLocalStorage } from '@vueuse/core'
import { ref } from 'vue'
import { me } from '@/api/session'

/** What this person wants after issuing. */
export const useWritesAfter = () => useLocalStorage(`vivid-issue-mail-${me.value?.id ?? 0}`, false)

/** The revision that is written about once it is issued; 0 for none. */
const next = ref(0)
export const writeNext = (revision: number) => (next.value = revision)
/** Whether it is this one; asked once. */
export function isNext(revision: number): boolean {
  const now = next.value === revision
  if (now) next.value = 0
  return now
}
