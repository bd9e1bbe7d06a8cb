/**
 * All words of the screens, by key. A missing key or a misspelt one is a type error; plurals follow
 * `Intl.PluralRules` of the language, its forms in the order zero, one, two, few, many, other.
 */
import { createI18n } from 'vue-i18n'
import en from './en'

type Tree = { [key: string]: string | Tree }
type KeysOf<T, Before extends string = ''> = {
  [K in keyof T & string]: T[K] extends string ? `${Before}${K}` : KeysOf<T[K], `${Before}${K}.`>
}[keyof T & string]

/** The key of a sentence, as `quotes.issue.act`. */
export type Key = KeysOf<typeof en>
export type Facts = Record<string, unknown>

const CATEGORIES = ['zero', 'one', 'two', 'few', 'many', 'other'] as const

const rulesOf = new Map<string, Intl.PluralRules>()

/** Which of a sentence's forms a count takes in a language; the last where it has fewer forms. */
export function formOf(language: string, count: number, forms: number): number {
  const rules = rulesOf.get(language) ?? new Intl.PluralRules(language)
  rulesOf.set(language, rules)
  const known = CATEGORIES.filter((name) => rules.resolvedOptions().pluralCategories.includes(name))
  const at = known.indexOf(rules.select(count))
  return Math.min(Math.max(at, 0), forms - 1)
}

export const i18n = createI18n({
  legacy: false,
  locale: 'en',
  fallbackLocale: 'en',
  messages: { en: en as Tree },
  pluralRules: { en: (count: number, forms: number) => formOf('en', count, forms) },
  missingWarn: false,
  fallbackWarn: false,
})

/** The sentence of a key, with its facts put in. */
export function t(key: Key, facts: Facts = {}): string {
  return i18n.global.t(key, facts)
}

/** The sentence's form for a count; `{n}` stands for the count as it is written. */
export function tn(key: Key, count: number, facts: Facts = {}): string {
  return i18n.global.t(key, { n: count, ...facts }, count)
}

/** A sentence whose key comes from elsewhere, as a fault's code; undefined where there is none. */
export function maybe(key: string, facts: Facts = {}): string | undefined {
  return i18n.global.te(key) ? i18n.global.t(key, facts) : undefined
}

/** The same, in its form for a count. */
export function maybeN(key: string, count: number, facts: Facts = {}): string | undefined {
  return i18n.global.te(key) ? i18n.global.t(key, { n: count, ...facts }, count) : undefined
}
