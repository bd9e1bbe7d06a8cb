/** A deal of the board in words: for who hears it, and for who points at it. */
import { day, figure } from '@/kit/format/format'
import { confidenceName } from '@/parts/deal/confidence'
import { t } from '@/words'
import type { DealRow } from './queries'

/** Why nobody seems to look after it. */
export function whyStale(deal: DealRow): string[] {
  const found = deal.stale.map((why) => t(`deals.stale.${why as 'quiet'}`))
  return deal.overdue ? [t('deals.stale.gone'), ...found] : found
}

export function wordsOf(deal: DealRow, chosen = false): string {
  const facts = {
    customer: deal.customer,
    title: deal.title,
    amount: figure(deal.amount),
    stage: deal.stage_name,
    day: day(deal.decision_on),
    confidence: confidenceName(deal.confidence),
  }
  const more = [...whyStale(deal), ...(chosen ? [t('board.chosen')] : [])]
  return [t('board.chip', facts), ...more].join('; ')
}
