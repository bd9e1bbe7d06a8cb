import { afterEach, describe, expect, it } from 'vitest'
import { Fault } from '@/api/fault'
import { fact } from '@/kit/format/format'
import { useFormat } from '@/kit/format/person'
import en from './en'
import { worded, writeFactsBy } from './refusals'

afterEach(() => {
  writeFactsBy(String)
  useFormat(undefined)
})

describe('a refusal in words', () => {
  it('is said by what it is about, then by its place, then for any place', () => {
    expect(worded({ code: 'required', path: 'deal.title' })).toContain('what the deal is about')
    expect(worded({ code: 'required', path: 'title', facts: { what: 'view' } })).toContain('view')
    expect(worded({ code: 'required', path: 'reference' })).toBe('This is needed.')
    expect(worded({ code: 'out_of_range', path: 'lines[12].discount_percent' })).toContain(
      '0 and 100',
    )
  })
  it('holds its facts in the person’s own format', () => {
    writeFactsBy(fact)
    const refused = {
      code: 'total_changed',
      facts: { from: '1200.00', to: '12000.00', currency: 'EUR' },
    }
    useFormat('comma')
    expect(worded(refused)).toBe(
      'The total has changed from 1.200,00 to 12.000,00 EUR: look again.',
    )
    useFormat('point')
    expect(worded({ code: 'prices_moved', facts: { since: '2024-03-12' } })).toContain('12/03/2024')
  })
  it('leaves codes and names as they are', () => {
    writeFactsBy(fact)
    expect(worded({ code: 'unknown', facts: { what: 'item', value: '4711' } })).toContain(' 4711.')
  })
  it('takes in a refusal that another one brings', () => {
    const inner = { code: 'not_a_multiple', facts: { what: 'problem', below: '90', above: '100' } }
    const facts = { what: 'line', line: '2a', fault: inner }
    expect(worded({ code: 'not_ready', path: 'lines[3]', facts })).toBe(
      'Line 2a does not fit the pack: 90 or 100 would.',
    )
  })
  it('is the server’s sentence where its code is not known yet', () => {
    expect(worded({ code: 'from_tomorrow', message: 'Not on a Sunday.' })).toBe('Not on a Sunday.')
    expect(new Fault(409, 'from_tomorrow', 'Not on a Sunday.').message).toBe('Not on a Sunday.')
    expect(worded({ code: 'from_tomorrow' })).toBeUndefined()
  })
  it('has no hole, whatever sentence', () => {
    const all = Object.entries(en.faults).flatMap(([code, words]) =>
      (typeof words === 'string' ? ['any'] : Object.keys(words)).map((what) => ({ code, what })),
    )
    expect(all.length).toBeGreaterThan(150)
    for (const { code, what } of all)
      expect(worded({ code, facts: { fault: 'f', found: 'f', what } }) ?? '{', code).not.toMatch(
        /[{}]/,
      )
  })
})
