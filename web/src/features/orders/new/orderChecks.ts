/** What an order that is being written brings with it, as the checks of its strip. */
import type { Shapes } from '@/api/client'
import { day, figure, isNothing } from '@/kit/format/format'
import type { Check } from '@/kit/show/CheckStrip.vue'
import { ageOf } from '@/parts/promise/words'
import { t, tn } from '@/words'

type Plan = Shapes['PlanOut']

export function checksOf(plan: Plan): Check[] {
  return [standing(plan), ...promise(plan), ...limits(plan), rest(plan)]
}

function standing({ standing: s }: Plan): Check {
  return {
    key: 'standing',
    verdict: s.verdict,
    word: t(`words.verdicts.${s.verdict}`),
    detail: !isNothing(s.overdue)
      ? t('checks.overdue', { amount: figure(s.overdue) })
      : s.limit
        ? t('orders.new.leftAfter', { amount: figure(s.after) })
        : t('checks.noLimit'),
  }
}

function promise({ promises, complete_on }: Plan): Check[] {
  if (promises.verdict === 'none') return []
  const { short, late, minutes } = promises
  const word = short
    ? tn('promise.check.short', short)
    : complete_on
      ? t('orders.new.completeOn', { day: day(complete_on) })
      : t('promise.check.ok')
  const age = ageOf(minutes ?? 0)
  const detail = late ? tn('promise.check.late', late) : t('promise.check.detail', { age })
  return [{ key: 'promise', verdict: promises.verdict, word, detail }]
}

function limits({ within_limits, beyond }: Plan): Check[] {
  if (within_limits && !beyond) return []
  return [
    {
      key: 'limits',
      verdict: 'caution',
      word: within_limits ? t('orders.new.more') : t('orders.new.overLimit'),
      detail: within_limits ? t('orders.new.moreHint') : t('orders.new.overLimitHint'),
    },
  ]
}

/** What stays open of the quotes. */
function rest({ offers }: Plan): Check {
  const left = offers.reduce((sum, offer) => sum + offer.left, 0)
  return {
    key: 'rest',
    verdict: 'clear',
    word: left ? tn('orders.new.staysOpen', left) : t('orders.new.nothingLeft'),
    detail: t('orders.new.restDetail'),
  }
}
