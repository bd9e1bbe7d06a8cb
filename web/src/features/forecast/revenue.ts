/** A month's revenue as places on a line: what is invoiced, then the backlog, then the weighted deals. */
import type { Shapes } from '@/api/client'
import { t, tn } from '@/words'

export type Revenue = Shapes['RevenueOut']
export type RevenueMonth = Shapes['RevenueMonthOut']
export interface Parts {
  invoiced: number
  backlog: number
  weighted: number
  target: number | null
}
const FULL = 96

/** Widths in percent of the line, of all months at one scale. A picture: nothing is summed here. */
export function partsOf(months: RevenueMonth[]): Parts[] {
  const most = Math.max(1, ...months.map((each) => Math.max(+each.total, +(each.target ?? 0))))
  const wide = (amount: string) => Math.max(0, (FULL * Number(amount)) / most)
  return months.map(({ invoiced, backlog, weighted, target }) => ({
    invoiced: wide(invoiced),
    backlog: wide(backlog),
    weighted: wide(weighted),
    target: target === null ? null : wide(target),
  }))
}

/** How long it usually takes from the order to its invoice, and how that is known. */
export function leadOf({ lead }: Revenue): string {
  if (!lead.invoices) return t('revenue.noLead')
  const facts = { days: lead.days, invoices: tn('revenue.invoices', lead.invoices) }
  return tn(lead.own ? 'revenue.lead' : 'revenue.leadOfHouse', lead.days, facts)
}
