/** What a quote weighs in the customer's standing, in its own currency and in the house's. */
import type { Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import { t } from '@/words'

type Weight = Shapes['WeightOut']
const inWords = (amount: string, currency: string) => `${figure(amount)} ${currency}`

/** Sentences: what it comes to, and what is left of the limit after it, where there is one. */
export function weightOf(weight: Weight, ordered: boolean): string[] {
  const { currency, payable, rate, base_currency, base_payable, base_left, left } = weight
  const foreign = currency !== base_currency
  const facts = {
    payable: inWords(payable, currency),
    base: inWords(base_payable, base_currency),
    rate: figure(rate),
    left: inWords(base_left ?? '0', base_currency),
    own: inWords(left ?? '0', currency),
  }
  const weighs = t(foreign ? 'checks.weighsForeign' : 'checks.weighs', facts)
  if (base_left === null) return [weighs]
  const after = ordered
    ? t(foreign ? 'checks.leavesForeignOrdered' : 'checks.leavesOrdered', facts)
    : t(foreign ? 'checks.leavesForeign' : 'checks.leaves', facts)
  return [weighs, after]
}
