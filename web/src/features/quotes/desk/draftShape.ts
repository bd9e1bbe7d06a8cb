/** What a draft of a quote holds, as it is typed; to and from the server's shapes. */
import type { Shapes } from '@/api/client'
import { todayIso } from '@/kit/format/format'
import type { Stored } from '@/kit/draft/types'
import type { DeskLine, Kind } from '@/parts/line/line'

/** Count up when `QuoteState` changes its shape: drafts kept in the old one are not taken up. */
export const SHAPE = 2

export type DeskCharge = Shapes['ChargeOut']
export interface DeskFields {
  valid_until: string
  discount_percent: string
  discount_amount: string
  discount_on: 'net' | 'gross'
  charges: DeskCharge[]
  buyer_reference: string
  message: string
  paper: 'short' | 'detailed'
  requested_on: string | null
  delivery_address_id: number | null
  terms_days: number
  terms_end_of_month: '' | 'after' | 'before'
  terms_more: Shapes['MoreTermsOut']
  contact_id: number | null
}
export interface QuoteState {
  lines: DeskLine[]
  fields: DeskFields
  /** The day for which new prices were asked; a later day asks anew. */
  pricedOn: string
}

export function stateOf(quote: Shapes['QuoteOut']): QuoteState {
  return {
    lines: quote.lines.map((line) => ({ ...line, kind: line.kind as Kind })),
    fields: {
      valid_until: quote.valid_until,
      discount_percent: quote.discount_percent ?? '',
      discount_amount: quote.discount_amount ?? '',
      discount_on: quote.discount_on,
      charges: quote.charges,
      buyer_reference: quote.buyer_reference,
      message: quote.message,
      paper: quote.paper,
      requested_on: quote.requested_on,
      delivery_address_id: quote.delivery_address_id,
      terms_days: quote.terms_days,
      terms_end_of_month: quote.terms_end_of_month,
      terms_more: quote.terms_more,
      contact_id: quote.contact_id,
    },
    pricedOn: '',
  }
}

export function storedOf(quote: Shapes['QuoteOut']): Stored<QuoteState> {
  return { state: stateOf(quote), version: quote.version, open: quote.state === 'draft' }
}

/** The draft as the server takes it. */
export function typedOf(state: QuoteState): Shapes['AskIn'] {
  const { fields } = state
  return {
    lines: state.lines.map(({ item, ...line }) => ({
      ...line,
      item_id: item?.id ?? null,
      quantity: line.quantity || null,
    })),
    ...fields,
    discount_percent: fields.discount_percent || null,
    discount_amount: fields.discount_amount || null,
    as_of_today: state.pricedOn === todayIso(),
    trails: [],
  } as Shapes['AskIn']
}

export function answerOf(quote: Shapes['QuoteOut']): Shapes['Answer'] {
  return {
    id: quote.id,
    version: quote.version,
    saved_at: quote.saved_at,
    on: quote.on,
    priced: quote.priced,
    problems: quote.problems,
    excesses: quote.excesses,
    sign_off: quote.sign_off,
    checks: quote.checks,
    standing: quote.standing,
    weight: quote.weight,
    days_left: quote.days_left,
    early_yearly_rate: quote.early_yearly_rate,
    mark: quote.mark,
  }
}

/** The quote as the server has it after a save: what was sent, and what was answered. */
export function quoteAfter(
  before: Shapes['QuoteOut'],
  sent: QuoteState,
  answer: Shapes['Answer'],
): Shapes['QuoteOut'] {
  const { fields } = sent
  return {
    ...before,
    ...fields,
    ...answer,
    discount_percent: fields.discount_percent || null,
    discount_amount: fields.discount_amount || null,
    lines: sent.lines,
  }
}
