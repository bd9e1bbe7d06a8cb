/** A promise in words. */
import { day, figure } from '@/kit/format/format'
import { t, tn } from '@/words'
import type { LinePromise, Proposal } from './usePromises'

/** The word of a line: in stock and how many are free, when it comes, how many are short. */
export function wordOf(promise: LinePromise): string {
  const { kind, leaves, missing, free } = promise
  if (kind === 'none') return '–'
  if (kind === 'in_stock') return t('promise.inStock', { free: figure(free) })
  if (kind === 'coming') return t('promise.coming', { day: day(leaves) })
  return t('promise.short', { missing: figure(missing) })
}
/** The reason, in a sentence. */
export function reasonOf(promise: LinePromise): string {
  const { kind, leaves, arrives, missing, sure, made } = promise
  if (kind === 'none') return t('promise.noStock')
  const facts = { leaves: day(leaves), arrives: day(arrives), missing: figure(missing) }
  if (kind === 'short') {
    return leaves ? t('promise.shortUntil', facts) : t('promise.shortForEver', facts)
  }
  if (made) return t('promise.leavesMade', facts)
  const words = t(kind === 'in_stock' ? 'promise.leavesNow' : 'promise.leavesThen', facts)
  return sure ? words : `${words} ${t('promise.notSure')}`
}
/** How old the back office's figures are. */
export function ageOf(minutes: number): string {
  if (minutes < 1) return t('promise.now')
  if (minutes < 60) return tn('promise.minutes', minutes)
  if (minutes < 48 * 60) return tn('promise.hours', Math.floor(minutes / 60))
  return tn('promise.days', Math.floor(minutes / (24 * 60)))
}
/** What a proposal does, as its button says it. */
export function proposalOf({ kind, parts, last, name }: Proposal): string {
  const facts = { last: day(last), name, quantity: figure(parts[0]?.quantity ?? '') }
  if (kind === 'split') {
    const list = parts.map((part) =>
      t('promise.part', { quantity: figure(part.quantity), day: day(part.arrives) }),
    )
    return t('promise.proposal.split', { parts: list.join(', ') })
  }
  return t(`promise.proposal.${kind}` as 'promise.proposal.whole', facts)
}
