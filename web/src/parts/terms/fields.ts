import type { Shapes } from '@/api/client'

/** Payment terms, as a quote and a customer have them. */
export interface TermsFields {
  terms_days: number
  terms_end_of_month: '' | 'after' | 'before'
  terms_more: Shapes['MoreTermsOut']
}
