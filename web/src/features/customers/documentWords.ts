/** A document in words: what it is, and where it stands. */
import { maybe } from '@/words'

export const documentName = (kind: string, number: string): string =>
  `${maybe(`customers.documents.${kind}`) ?? kind} ${number}`

/** Where it stands, in the words of its kind. */
export function documentState(kind: string, state: string): string {
  const words = {
    quote: maybe(`states.quote.${state}`),
    order: maybe(`states.order.${state}`),
    delivery: maybe(`states.delivery.${state}`),
    payment: maybe(`states.payment.${state}`),
  }[kind]
  return words ?? maybe(`states.invoice.${state}`) ?? state
}
