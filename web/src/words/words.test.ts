import { readFileSync, readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import en from './en'
import { formOf, maybe, t } from './index'

type Tree = { [key: string]: string | Tree }
function keysOf(tree: Tree, before = ''): string[] {
  return Object.entries(tree).flatMap(([key, value]) =>
    typeof value === 'string' ? [before + key] : keysOf(value, `${before}${key}.`),
  )
}
function sources(place: string): string[] {
  return readdirSync(place).flatMap((name) => {
    const path = join(place, name)
    if (statSync(path).isDirectory()) return name === 'words' ? [] : sources(path)
    return /\.(vue|ts)$/.test(name) && !/\.test\.ts$|schema\.d\.ts$/.test(name)
      ? [readFileSync(path, 'utf8')]
      : []
  })
}
const code = sources(join(process.cwd(), 'src')).join('\n')
const keys = keysOf(en as Tree)

describe('the words', () => {
  it('are complete: each key that the code names is there', () => {
    const named = [...code.matchAll(/\bt[n]?\(\s*'([a-zA-Z0-9_.]+)'/g)].map(
      (match) => match[1] ?? '',
    )
    expect(named.length).toBeGreaterThan(30)
    expect(named.filter((key) => !keys.includes(key))).toEqual([])
  })
  it('are all used: by their key, or by a key that is put together', () => {
    const unused = keys.filter((key) => {
      if (code.includes(`'${key}'`) || code.includes(`"${key}"`)) return false
      const parent = key.slice(0, key.lastIndexOf('.') + 1)
      const together = code.includes('`' + parent + '${')
      return !together && !parent.startsWith('faults.')
    })
    expect(unused).toEqual([])
  })
  it('can be put together with their facts, whatever is in braces', () => {
    for (const key of keys) expect(maybe(key), key).not.toBe(key)
  })
  it('take their plural form from the language', () => {
    expect([0, 1, 2].map((n) => formOf('en', n, 2))).toEqual([1, 0, 1])
    expect([1, 2, 5].map((n) => formOf('pl', n, 4))).toEqual([0, 1, 2])
    expect(formOf('en', 7, 1)).toBe(0)
  })
  it('say a fact where it stands', () => {
    expect(t('kit.faults.status', { status: 418 })).toBe('The server answered 418.')
  })
})
