/** How many rows a list has: beyond what is counted it says so, and asks for a narrower filter. */
import { figure } from '@/kit/format/number'
import { t } from '@/words'

interface Counted {
  count: number
  more: boolean
}

/** The count as a figure of the bar. */
export function counted(found: Counted | undefined): string {
  if (!found) return ''
  return found.more ? t('list.over', { n: figure(String(found.count)) }) : String(found.count)
}

/** What stands at the right of the bar: the words for the count, or what to do to see sums. */
export function countedHint(found: Counted | undefined, words: (count: number) => string): string {
  if (!found) return ''
  return found.more ? t('list.narrow') : words(found.count)
}
