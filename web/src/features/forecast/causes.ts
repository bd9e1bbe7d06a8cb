/** Why a forecast moved, in words. */
import { figure } from '@/kit/format/format'
import { t } from '@/words'

type Cause =
  | ('new' | 'won' | 'lost' | 'parked' | 'handed' | 'later' | 'sooner')
  | ('overdue' | 'grew' | 'shrank' | 'chance')

export const causeName = (cause: string) => t(`forecast.moved.causes.${cause as Cause}`)
export const causeHint = (cause: string) => t(`forecast.moved.why.${cause as Cause}`)

/** "+14 000.00"; a minus is there already. */
export const signed = (amount: string) =>
  amount.startsWith('-') ? figure(amount) : `+${figure(amount)}`
