/** The checks over a quote in words; the verdicts are the server's. */
import { computed, type ComputedRef, type Ref } from 'vue'
import type { Shapes } from '@/api/client'
import type { Check } from '@/kit/show/CheckStrip.vue'
import { count, day, figure } from '@/kit/format/format'

type Answer = Shapes['Answer']
type Quote = Shapes['QuoteOut']
const STANDINGS: Record<string, string> = { clear: 'Clear', caution: 'Caution', halt: 'Halt' }
const SIGNED: Record<string, string> = {
  '': 'Sign-off asked',
  granted: 'Signed off',
  refused: 'Sign-off refused',
}
const ANSWERED: Record<string, string> = { ordered: 'Ordered', declined: 'Declined' }

export function useChecks(
  quote: Ref<Quote | undefined>,
  answer: Ref<Answer | null>,
  validUntil: () => string,
  seesMargin: () => boolean,
): ComputedRef<Check[]> {
  return computed(() => {
    const a = answer.value
    const q = quote.value
    if (!a || !q) return []
    return [
      standing(a, q),
      prices(a, q),
      ...(seesMargin() ? [margin(a, q)] : []),
      ...(a.checks.limits === 'none' ? [] : [limits(a)]),
      dates(a, q, validUntil()),
    ]
  })
}

function standing({ standing: s }: Answer, q: Quote): Check {
  const left = q.state === 'ordered' ? 'left' : 'left after this'
  return {
    key: 'standing',
    verdict: s.verdict as Check['verdict'],
    word: STANDINGS[s.verdict] ?? '',
    detail:
      s.overdue !== '0.00'
        ? `Standing · ${figure(s.overdue)} overdue`
        : s.limit
          ? `Standing · ${figure(s.after)} ${left}`
          : 'Standing · no limit set',
  }
}

function prices(a: Answer, q: Quote): Check {
  const { lines } = a.priced
  const faulty = new Set(a.problems.flatMap((problem) => problem.line ?? [])).size
  const whole = a.problems.some((problem) => problem.code === 'discount_not_reached')
  const priced = lines.filter((line) => line.price).length
  return {
    key: 'prices',
    verdict: a.checks.prices,
    word: lines.length ? `${priced} of ${lines.length} priced` : 'No line yet',
    detail: faulty
      ? `Prices · ${count(faulty, 'line')} to mend`
      : whole
        ? 'Prices · more comes off than the lines bear'
        : `Prices · ${q.price_list}, as of ${day(a.on)}`,
  }
}

function margin(a: Answer, q: Quote): Check {
  const percent = a.priced.totals.margin_percent
  const priced = a.priced.lines.some((line) => line.price)
  // Without a net there is no percent, though every cost may be known.
  const nothing = a.priced.totals.cost != null
  return {
    key: 'margin',
    verdict: a.checks.margin,
    word: percent ? `${figure(percent)} %` : !priced ? '—' : nothing ? 'None' : 'Unknown',
    detail: percent
      ? `Margin · floor ${figure(q.margin_floor)} %`
      : !priced
        ? 'Margin'
        : nothing
          ? 'Margin · nothing is left of the net'
          : 'Margin · a cost is missing',
  }
}

function limits(a: Answer): Check {
  return {
    key: 'limits',
    verdict: a.checks.limits,
    word: a.sign_off ? (SIGNED[a.sign_off.answer] ?? '') : 'Sign-off needed',
    detail: `Limits · ${count(a.excesses.length, 'point')} beyond yours`,
  }
}

function dates(a: Answer, q: Quote, validUntil: string): Check {
  return {
    key: 'dates',
    verdict: a.checks.dates,
    word: ANSWERED[q.state] ?? (a.days_left < 0 ? 'Lapsed' : `${count(a.days_left, 'day')} left`),
    detail: `Dates · valid to ${day(validUntil)}`,
  }
}
