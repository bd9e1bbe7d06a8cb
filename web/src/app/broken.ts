/** What broke while a page was drawn, so that it can be told instead of leaving it blank. */
import { ref, shallowRef } from 'vue'
import { asFault } from '@/api/fault'
import { complain } from '@/kit/act/notices'
import { partMissing } from './build'

/** The error that a page could not be drawn for; null while all is well. */
export const broken = shallowRef<Error | null>(null)
/** Counts the times a page was asked for anew. */
export const tries = ref(0)

/** Where a page is lost: while it is set up, drawn, put in or drawn anew; by word, or by code as built. */
const LOST = /setup|render|mount|create|component update|runtime-(0|1|13|14|15|bc|c|bm|m)$/

export function noteBroken(error: unknown, _page: unknown, where: string): void {
  console.error(error)
  if (LOST.test(where)) broken.value = asFault(error)
  else complain(error)
}
export function drawAgain(): void {
  broken.value = null
  partMissing.value = false
  tries.value += 1
}
