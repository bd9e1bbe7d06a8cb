/** The papers of a quote, their editions, and how a trial is set. */
import { useQuery } from '@tanstack/vue-query'
import { api, take, type Shapes } from '@/api/client'

export type Edition = Shapes['EditionOut']
export type Papers = Shapes['PapersOut']
export const PAPERS = ['short', 'detailed'] as const
export type Paper = (typeof PAPERS)[number]
export const LANGUAGES = ['en', 'de'] as const
export type Language = (typeof LANGUAGES)[number]

export interface Template {
  look: Shapes['LookShape']
  wording: Record<string, Record<string, string>>
  source: string
}

export function usePapers() {
  return useQuery({
    queryKey: ['papers'],
    queryFn: () => take(api.GET('/api/papers')),
    refetchOnWindowFocus: false,
  })
}

/** Only what is said: empty sentences and languages are left out. */
function said(wording: Template['wording']): Template['wording'] {
  const filled = Object.entries(wording).map(([code, words]) => [
    code,
    Object.fromEntries(Object.entries(words).filter(([, text]) => text.trim())),
  ])
  return Object.fromEntries(filled.filter(([, words]) => Object.keys(words ?? {}).length))
}
/** A template to work on: a copy, with room for every language. */
export function templateOf(edition: Edition): Template {
  const { look, wording, source } = JSON.parse(JSON.stringify(edition)) as Template
  return { look, source, wording: Object.fromEntries(LANGUAGES.map((c) => [c, wording[c] ?? {}])) }
}
/** Whether two templates make the same paper. */
export function samePaper(one: Template, other: Template): boolean {
  const plain = ({ look, wording, source }: Template) =>
    JSON.stringify([look, said(wording), source])
  return plain(one) === plain(other)
}
