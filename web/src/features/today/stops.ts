/** A stop of the day in words: what it is, and when. */
import type { Shapes } from '@/api/client'
import { day } from '@/kit/format/format'
import { spanOf } from '@/parts/regulars/nextTime'
import { maybe, t, tn } from '@/words'

export const KINDS = [
  'trouble',
  'stumbled',
  'news',
  'mail_stuck',
  'mail_accepts',
  'buyer_accepts',
  'buyer_asks',
  'mail_asks',
  'mail_declines',
  'mail_waits',
  'mail_away',
  'stranger',
  'slipped',
  'changed_by_them',
  'change_refused',
  'change_in_part',
  'change_taken',
  'sign_off',
  'ask_late',
  'standing_asks',
  'call_off_due',
  'standing_begun',
  'told_mentioned',
  'told_back',
  'told_moved',
  'told_done',
  'follow_up',
  'lead_due',
  'lapsing',
  'overdue_deal',
  'lacks_quote',
  'lacks_decider',
  'lacks_reason',
  'commitment_missed',
  'sooner',
  'stopped',
] as const
type Stop = Shapes['DueStop']

/** All that is due, the gravest first. */
export function stopsOf(day: Shapes['TodayOut'] | undefined): Stop[] {
  if (!day) return []
  const {
    trouble,
    stumbled,
    news,
    mails,
    answers,
    ahead,
    sign_offs,
    told,
    follow_ups,
    lapsing,
    overdue_deals,
    lacking,
    stopped,
  } = day
  return [
    trouble,
    stumbled,
    news,
    mails,
    answers,
    ahead,
    sign_offs,
    told,
    follow_ups,
    lapsing,
    overdue_deals,
    lacking,
    stopped,
  ].flat()
}

/** What a person wrote stays as it is; a document is named by what it is. */
export function title({ kind, title, state }: Stop): string {
  if (kind === 'news') {
    const what = maybe(`orders.news.${title}`) ?? t('orders.apart.nothingKnown')
    return t('today.titles.news', { title: what })
  }
  if (kind === 'trouble') return maybe(`today.trouble.${title}`) ?? title
  const stumbled = maybe(`states.order.${state}`)?.toLowerCase()
  return maybe(`today.titles.${kind}`, { title, state: stumbled }) ?? title
}

/** Stops that name the day that is now expected. */
const DATED = ['slipped', 'sooner']

export function when(stop: Stop): string {
  if (DATED.includes(stop.kind)) return stop.on ? day(stop.on) : ''
  if (stop.kind.startsWith('lacks_')) return ''
  if (stop.days === 0) return t('today.today')
  if (stop.kind === 'stopped') return spanOf(stop.days)
  if (stop.days < 0) return tn('today.in', -stop.days)
  return ['stumbled', 'trouble'].includes(stop.kind) ? day(stop.on) : tn('today.late', stop.days)
}
