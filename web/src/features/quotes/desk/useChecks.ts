/** The checks over a quote in words; the verdicts are the server's. */
import { computed, type ComputedRef, type Ref } from 'vue'
import type { Shapes } from '@/api/client'
import { day, figure, isNothing } from '@/kit/format/format'
import type { Check } from '@/kit/show/CheckStrip.vue'
import { ageOf } from '@/parts/promise/words'
import { t, tn } from '@/words'

type Answer = Shapes['Answer']
type Quote = Shapes['QuoteOut']

/** What can be promised; or that it is being asked, or was not answered; or nothing to promise. */
type Promises = Shapes['PromisesOut'] | 'asking' | 'failed' | ''

export function useChecks(
  quote: Ref<Quote>,
  answer: Ref<Answer>,
  validUntil: () => string,
  seesMargin: () => boolean,
  promises: () => Promises = () => '',
): ComputedRef<Check[]> {
  return computed(() => {
    const a = answer.value
    const q = quote.value
    return [
      standing(a, q),
      prices(a, q),
      ...promised(promises()),
      ...(seesMargin() ? [margin(a, q)] : []),
      ...(a.checks.limits === 'none' ? [] : [limits(a)]),
      dates(a, q, validUntil()),
    ]
  })
}

function standing({ standing: s, weight }: Answer, q: Quote): Check {
  // Two currencies on one sheet: the house's is named.
  const money = weight.currency === s.currency ? '' : ` ${s.currency}`
  const left = q.state === 'ordered' ? 'checks.left' : 'checks.leftAfter'
  return {
    key: 'standing',
    verdict: s.verdict,
    word: t(`words.verdicts.${s.verdict}`),
    detail: !isNothing(s.overdue)
      ? t('checks.overdue', { amount: figure(s.overdue) + money })
      : s.limit
        ? t(left, { amount: figure(s.after) + money })
        : t('checks.noLimit'),
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
    word: lines.length ? t('checks.priced', { priced, all: lines.length }) : t('checks.noLine'),
    detail: faulty
      ? tn('checks.toMend', faulty)
      : whole
        ? t('checks.tooMuchOff')
        : t('checks.listAsOf', { list: q.price_list, day: day(a.on) }),
  }
}

/** The promise over all lines; nothing where there is nothing to promise. Its place is there from the start. */
function promised(found: Promises): Check[] {
  if (found === 'asking' || found === 'failed') {
    const detail = t(`promise.check.${found}`)
    const failed = found === 'failed'
    const word = failed ? t('promise.check.notKnown') : '…'
    return [{ key: 'promise', verdict: failed ? 'caution' : 'none', word, detail }]
  }
  if (!found || found.verdict === 'none') return []
  const { short, late, coming, minutes, stale } = found
  const word = short
    ? tn('promise.check.short', short)
    : late
      ? tn('promise.check.late', late)
      : coming
        ? tn('promise.check.coming', coming)
        : t('promise.check.ok')
  const age = ageOf(minutes ?? 0)
  const detail = t(stale ? 'promise.check.old' : 'promise.check.detail', { age })
  return [{ key: 'promise', verdict: found.verdict, word, detail }]
}

function margin(a: Answer, q: Quote): Check {
  const percent = a.priced.totals.margin_percent
  const priced = a.priced.lines.some((line) => line.price)
  // Without a net there is no percent, though every cost may be known.
  const nothing = a.priced.totals.cost != null
  const base = { key: 'margin', verdict: a.checks.margin }
  if (percent) {
    const detail = t('checks.floor', { floor: figure(q.margin_floor) })
    return { ...base, word: `${figure(percent)} %`, detail }
  }
  if (!priced) return { ...base, word: '—', detail: t('checks.margin') }
  return nothing
    ? { ...base, word: t('checks.marginNone'), detail: t('checks.nothingLeft') }
    : { ...base, word: t('checks.marginUnknown'), detail: t('checks.costMissing') }
}

function limits(a: Answer): Check {
  const signed = a.sign_off ? a.sign_off.answer || 'asked' : 'needed'
  return {
    key: 'limits',
    verdict: a.checks.limits,
    word: t(`checks.signOff.${signed as 'asked'}`),
    detail: tn('checks.beyond', a.excesses.length),
  }
}

function dates(a: Answer, q: Quote, validUntil: string): Check {
  const answered = q.state === 'ordered' || q.state === 'declined'
  return {
    key: 'dates',
    verdict: a.checks.dates,
    word: answered
      ? t(`checks.answered.${q.state as 'ordered'}`)
      : a.days_left < 0
        ? t('checks.lapsed')
        : tn('checks.daysLeft', a.days_left),
    detail: t('checks.validTo', { day: day(validUntil) }),
  }
}
