import type { Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import { t } from '@/words'

type Books = Shapes['BooksOut']

/** That the back office's books of a customer say otherwise than ours: both, by currency. */
export function differing(rows: Books[]): string {
  const sums = (whose: 'told' | 'ours') =>
    rows.map((row) => `${figure(row[whose])} ${row.currency}`).join(', ')
  return t('parts.customer.books', { told: sums('told'), ours: sums('ours') })
}
