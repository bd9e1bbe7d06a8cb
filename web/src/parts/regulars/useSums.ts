/** The sums of what is typed, for the bar or the panel's foot. */
import { refDebounced } from '@vueuse/core'
import { computed, type Ref } from 'vue'
import { figure } from '@/kit/format/format'
import type { Sum } from '@/kit/show/SumBar.vue'
import { t } from '@/words'
import { useTypedPrice, type Typed } from './queries'

/** A pause in typing after which the sums are asked for. */
const PAUSE_MS = 120

export function useSums(customer: number, lines: Ref<Typed[]>, currency: Ref<string>) {
  const priced = useTypedPrice(customer, refDebounced(lines, PAUSE_MS))
  const found = computed(() => (lines.value.length ? priced.data.value : undefined))
  const sums = computed<Sum[]>(() => {
    const totals = found.value?.totals
    const shown = (value: string | null | undefined) => (value == null ? '—' : figure(value))
    return [
      { label: t('regulars.lines'), value: String(lines.value.length) },
      { label: t('desk.sums.net'), value: shown(totals?.net) },
      { label: t('desk.sums.tax'), value: shown(totals?.tax_total) },
      {
        label: t('desk.sums.payable', { currency: currency.value }),
        value: shown(totals?.payable),
        main: true,
      },
      ...(totals?.margin_percent
        ? [{ label: t('desk.sums.margin'), value: `${figure(totals.margin_percent)} %` }]
        : []),
    ]
  })
  return { sums, found, error: priced.error, stale: computed(() => priced.isFetching.value) }
}
