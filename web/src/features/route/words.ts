/** A stop of the whole Route in one sentence. */
import { day, figure } from '@/kit/format/format'
import { maybe, t } from '@/words'
import type { Stop } from './chart'

export function wordsOf(stop: Stop): string {
  const parts = [
    `${maybe(`route.kinds.${stop.kind}`) ?? ''} ${stop.name}`.trim(),
    maybe(`parts.route.notes.${stop.note}`),
    stop.on && day(stop.on),
    stop.amount && `${figure(stop.amount)} ${stop.currency}`,
    stop.late ? t('route.late') : stop.open && t('parts.route.states.open'),
    stop.folded && t('route.folded', { n: stop.folded }),
  ]
  return parts.filter(Boolean).join(', ')
}
