/** Mails of a record: asked for while one is on its way; what is typed in their fields, read. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import type { operations } from '@/api/schema'

export type MailKind = operations['list_mails']['parameters']['query']['kind']
/** What a mail is written from: a record, or a visit that is planned. */
export type MailFrom = Shapes['MailIn']['kind']
export type Mail = Shapes['MailOut']
export type Arrived = Shapes['ArrivedOut']
export type MailTo = Shapes['PersonTo']

/** A mail as it is being written; what nobody touched is as the draft has it. */
export interface Typed {
  contact: number | null
  /** Another address than a contact's. */
  address: string
  copies: string
  self: boolean
  subject: string | null
  body: string | null
  papers: string[] | null
  /** Null: asked about later, unless somebody is to ask already. */
  follow: boolean | null
  followOn: string | null
  followBy: number | null
}
export const blank = (): Typed => ({
  ...{ contact: null, address: '', copies: '', self: false, subject: null, body: null },
  ...{ papers: null, follow: null, followOn: null, followBy: null },
})

/** While a mail is on its way, what became of it is looked up. */
const SOON_MS = 2000
/** An answer, or a mail that comes back, does not announce itself. */
const NOW_AND_THEN_MS = 15_000
const MOVING = ['waiting', 'under_way']
export const moving = (mails: Mail[] | undefined) =>
  (mails ?? []).some(({ state, tries }) => MOVING.includes(state) && tries < 2)

export const mailsKey = (kind: MailKind, record: number) => ['mails', kind, record]
/** `also`: one that is shown however old it is. */
export function useMails(kind: MailKind, record: () => number, also?: () => number | undefined) {
  return useQuery({
    queryKey: computed(() => [...mailsKey(kind, record()), 'sent', also?.()]),
    queryFn: ({ signal }) => {
      const query = { kind, record: record(), also: also?.() }
      return take(api.GET('/api/mails', { params: { query }, signal }))
    },
    refetchInterval: ({ state }) => (moving(state.data) ? SOON_MS : NOW_AND_THEN_MS),
  })
}

export function useArrived(kind: MailKind, record: () => number, also?: () => number | undefined) {
  return useQuery({
    queryKey: computed(() => [...mailsKey(kind, record()), 'arrived', also?.()]),
    queryFn: ({ signal }) => {
      const query = { kind, record: record(), also: also?.() }
      return take(api.GET('/api/arrived-mails', { params: { query }, signal }))
    },
    refetchInterval: NOW_AND_THEN_MS,
  })
}

/** What an address asks of a record's mails: to see them (`#mail`), or one of them (`#mail-in-12`). */
export function wantedOf(hash: string) {
  const [, way, id] = /^#mail(?:-(in|out)-(\d+))?$/.exec(hash) ?? []
  const also = (asked: string) => (way === asked ? Number(id) : undefined)
  return {
    all: hash === '#mail',
    key: way ? `${way}-${id}` : '',
    sent: also('out'),
    came: also('in'),
  }
}

/** Files whose table is read into lines. */
const TABLES = /\.(csv|xlsx)$/i
export const isTable = (name: string) => TABLES.test(name)

export type Letter = { key: string; at: string } & (
  { mail: Mail; arrived?: undefined } | { arrived: Arrived; mail?: undefined }
)
/** What went out and what came in, as one conversation: the newest first. */
export function conversation(mails: Mail[], arrived: Arrived[]): Letter[] {
  const out = mails.map((mail) => ({
    key: `out-${mail.id}`,
    at: mail.sent_at ?? mail.created_at,
    mail,
  }))
  const came = arrived.map((each) => ({ key: `in-${each.id}`, at: each.written_at, arrived: each }))
  return [...out, ...came].sort((a, b) => Date.parse(b.at) - Date.parse(a.at))
}

/** Whether a letter holds every word, somewhere in what is shown of it. */
export function holds({ mail, arrived }: Letter, words: string): boolean {
  const shown = mail
    ? [
        mail.subject,
        mail.body,
        mail.who,
        ...mail.to,
        ...mail.copies,
        ...mail.files.map((f) => f.name),
      ]
    : [
        arrived.subject,
        arrived.text,
        arrived.sender,
        arrived.address,
        ...arrived.files.map((f) => f.name),
      ]
  const text = shown.join('\n').toLowerCase()
  return words
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word))
}

const ADDRESS = /^(?:(.*?)\s*<)?([^\s<>@]+@[^\s<>@]+\.[^\s<>@]+)>?$/

/** Addresses with commas or semicolons between, each with its name before it in angle brackets or without. */
export function peopleIn(text: string): { people: MailTo[]; wrong: string } {
  const people: MailTo[] = []
  for (const part of text.split(/[,;]/).map((each) => each.trim())) {
    if (!part) continue
    const found = ADDRESS.exec(part)
    if (!found) return { people, wrong: part }
    people.push({ name: (found[1] ?? '').replace(/^"|"$/g, ''), address: found[2] ?? '' })
  }
  return { people, wrong: '' }
}

const OPEN = /⟨([a-z_]+)⟩/g
/** The fields of a text that are still without a value. */
export const openIn = (text: string): string[] => [
  ...new Set([...text.matchAll(OPEN)].map((found) => found[1] ?? '')),
]
