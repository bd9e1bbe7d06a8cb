import { readFileSync, readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { NodeTypes, parse, type RootNode, type TemplateChildNode } from '@vue/compiler-dom'
import en from './en'
import { formOf, maybe, t } from './index'

type Tree = { [key: string]: string | Tree }
function keysOf(tree: Tree, before = ''): string[] {
  return Object.entries(tree).flatMap(([key, value]) =>
    typeof value === 'string' ? [before + key] : keysOf(value, `${before}${key}.`),
  )
}
function files(place: string): string[] {
  return readdirSync(place).flatMap((name) => {
    const path = join(place, name)
    if (statSync(path).isDirectory()) return name === 'words' ? [] : files(path)
    return /\.(vue|ts)$/.test(name) && !/\.test\.ts$|schema\.d\.ts$/.test(name) ? [path] : []
  })
}
const code = files(join(process.cwd(), 'src'))
  .map((path) => readFileSync(path, 'utf8'))
  .join('\n')
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

describe('a screen', () => {
  /** Attributes that people read or hear. */
  const READ = ['label', 'title', 'placeholder', 'aria-label', 'alt', 'content', 'act', 'question', 'hint'] // prettier-ignore
  /** Names, units and signs that are the same in every language. */
  const SAME = /^(Ctrl K|T|XLSX|CSV|[^\p{L}]*)$/u

  function said(node: TemplateChildNode | RootNode): string[] {
    if (node.type === NodeTypes.TEXT) return [node.content.trim()]
    if (node.type === NodeTypes.ELEMENT) {
      const attributes = node.props.flatMap((prop) =>
        prop.type === NodeTypes.ATTRIBUTE && READ.includes(prop.name)
          ? [prop.value?.content ?? '']
          : [],
      )
      return [...attributes, ...node.children.flatMap(said)]
    }
    return 'children' in node && Array.isArray(node.children)
      ? (node.children as TemplateChildNode[]).flatMap(said)
      : []
  }
  it('says nothing that is not in the words', () => {
    const found = files(join(process.cwd(), 'src'))
      .filter((path) => path.endsWith('.vue'))
      .flatMap((path) => {
        const template = /<template>([\s\S]*)<\/template>/.exec(readFileSync(path, 'utf8'))?.[1]
        const words = template ? said(parse(template, { isVoidTag: () => false })) : []
        return words.filter((text) => !SAME.test(text)).map((text) => `${path}: ${text}`)
      })
    expect(found).toEqual([])
  })
})
