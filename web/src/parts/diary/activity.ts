/** What the form of an activity holds, and what it sends. */
import type { Shapes } from '@/api/client'
import { todayIso } from '@/kit/format/format'
import { me } from '@/api/session'

export const KINDS = ['note', 'call', 'visit', 'follow_up'] as const
export type Kind = (typeof KINDS)[number]
/** What it is about: a deal, a customer, or a document of theirs. */
export interface About {
  deal_id: number | null
  customer_id: number | null
  about?: Document
  record?: number
}
export type Document = 'quote' | 'order' | 'invoice'
export interface ActivityDraft {
  kind: Kind
  text: string
  /** The day of what was done. */
  day: string | null
  /** When a follow-up is due, or what comes next. */
  due: string | null
  visit: boolean
  starts: string | null
  where: string
  owner: number | null
  next: string
}

export function emptyForm(kind: Kind, due: string): ActivityDraft {
  const owner = me.value?.id ?? null
  return { kind, text: '', day: todayIso(), due, visit: false, starts: null, where: '', owner, next: '' } // prettier-ignore
}

/** What is sent: only what its kind has. */
export function bodyOf(
  draft: ActivityDraft,
  about: About,
  person?: { id: number },
): Shapes['NewActivity'] {
  const planned = draft.kind === 'follow_up'
  const placed = draft.kind === 'visit' || (planned && draft.visit)
  const asks = (draft.kind === 'call' || draft.kind === 'visit') && draft.next.trim() && draft.due
  return {
    kind: draft.kind,
    text: draft.text,
    ...about,
    contact_id: person?.id ?? null,
    due_on: planned ? draft.due : null,
    day: planned || draft.kind === 'note' ? null : draft.day,
    starts: placed ? draft.starts || null : null,
    where: placed ? draft.where : '',
    visit: planned && draft.visit,
    owner_id: planned ? draft.owner : null,
    then: asks ? { text: draft.next, due_on: draft.due ?? '', owner_id: null } : null,
  }
}

/** When and where it is, in a few words. */
export const placeOf = ({ starts, where }: Pick<Shapes['ActivityOut'], 'starts' | 'where'>) =>
  [starts, where].filter(Boolean).join(', ')
