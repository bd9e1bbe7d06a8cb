/** The sums of a quote for the bar at its foot; what is nothing is left out or a dash. */
import { computed, type ComputedRef, type Ref } from 'vue'
import type { Shapes } from '@/api/client'
import { figure, isNothing } from '@/kit/format/format'
import type { Sum } from '@/kit/show/SumBar.vue'
import { t } from '@/words'
import type { DeskFields } from './draftShape'

export function useSums(
  quote: Ref<Shapes['QuoteOut']>,
  answer: Ref<Shapes['Answer']>,
  fields: Ref<DeskFields>,
  seesMargin: Ref<boolean>,
): ComputedRef<Sum[]> {
  const discount = computed(() => {
    const percent = fields.value.discount_percent
    return percent
      ? t(`desk.sums.discountOn.${fields.value.discount_on}`, { percent: figure(percent) })
      : t('desk.sums.discount')
  })
  return computed(() => {
    const sums = answer.value.priced.totals
    const margin = sums.margin_percent ? `${figure(sums.margin_percent)} %` : '—'
    return [
      { label: t('desk.sums.lines'), value: figure(sums.lines_net) },
      { label: discount.value, value: taken(sums.document_discount) },
      ...some(t('desk.sums.charges'), sums.charges),
      { label: t('desk.sums.net'), value: figure(sums.net) },
      { label: t('desk.sums.tax'), value: figure(sums.tax_total) },
      ...some(t('desk.sums.rounding'), sums.payable_rounding),
      {
        label: t('desk.sums.payable', { currency: quote.value.currency }),
        value: figure(sums.payable),
        main: true,
      },
      ...(seesMargin.value ? [{ label: t('desk.sums.margin'), value: margin }] : []),
    ]
  })
}
function taken(amount: string): string {
  return isNothing(amount) ? '—' : `−${figure(amount)}`
}
function some(label: string, amount: string): Sum[] {
  return isNothing(amount) ? [] : [{ label, value: figure(amount) }]
}
