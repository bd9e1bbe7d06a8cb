/** What happened, in words, and by days. */
import type { Shapes } from '@/api/client'
import { maybe, t } from '@/words'
import { documentName, documentState } from './documentWords'

export type Happened = Shapes['TimelineRow']
const SAID = ['mail', 'arrived', 'call', 'visit', 'note', 'follow_up']
export const isSaid = (row: Happened): boolean => SAID.includes(row.kind)

/** What it is: "Mail", "Call", "Invoice INV-7". */
export const nameOf = (row: Happened): string =>
  isSaid(row)
    ? (maybe(`customers.happened.kinds.${row.kind}`) ?? row.kind)
    : documentName(row.kind, row.title)

/** Who let whom know. */
export function peopleOf({ who, whom }: Happened): string {
  return who && whom ? t('customers.happened.told', { who, whom }) : who || whom
}
/** Where a document stands; a mail that did not go well. */
export function stateOf(row: Happened): string {
  if (!isSaid(row)) return documentState(row.kind, row.state)
  return row.kind === 'mail' && row.state !== 'sent'
    ? (maybe(`states.mail.${row.state}`) ?? '')
    : ''
}

/** The rows, day by day as they come. */
export function byDay(rows: Happened[]): { day: string; rows: Happened[] }[] {
  const days: { day: string; rows: Happened[] }[] = []
  for (const row of rows) {
    const last = days.at(-1)
    if (last?.day === row.day) last.rows.push(row)
    else days.push({ day: row.day, rows: [row] })
  }
  return days
}
