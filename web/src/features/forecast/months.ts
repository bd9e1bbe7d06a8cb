/** Forecast months in words. */
import { monthOf } from '@/kit/format/day'
import { t } from '@/words'

export const OVERDUE = 'overdue'

export function monthName(key: string): string {
  return key === OVERDUE ? t('deals.gone') : monthOf(key)
}
