import { describe, expect, it } from 'vitest'
import type { LinePromise, Proposal } from './usePromises'
import { ageOf, proposalOf, reasonOf, wordOf } from './words'

const promise = (more: Partial<LinePromise>): LinePromise => ({
  key: 'a',
  kind: 'in_stock',
  depot_id: 1,
  leaves: '2026-11-30',
  arrives: '2026-12-01',
  sure: true,
  made: false,
  late: false,
  missing: null,
  free: '410',
  minutes: 0,
  stale: false,
  proposals: [],
  ...more,
})

describe('a promise in words', () => {
  it.each<[Partial<LinePromise>, string]>([
    [{}, 'In stock · 410'],
    [{ kind: 'coming', leaves: '2026-12-02' }, 'Coming 2 Dec'],
    [{ kind: 'short', missing: '3' }, 'Short by 3'],
    [{ kind: 'none' }, '–'],
  ])('%o', (more, words) => expect(wordOf(promise(more))).toBe(words))

  it('says that a receipt is not confirmed, and that there is no more', () => {
    expect(reasonOf(promise({ kind: 'coming', sure: false }))).toContain('has not confirmed')
    const never = promise({ kind: 'short', missing: '3', leaves: null, arrives: null })
    expect(reasonOf(never)).toContain('cannot be ordered again')
  })
  it('of what is made first knows no receipt and no supplier', () => {
    const said = reasonOf(promise({ kind: 'coming', sure: false, made: true }))
    expect(said).toBe('It is made to order: leaves 30 Nov, at the buyer’s 1 Dec.')
  })
  it.each([
    [0, 'just now'],
    [1, '1 minute old'],
    [119, '1 hour old'],
    [60 * 48, '2 days old'],
  ])('%i minutes are %s', (minutes, words) => expect(ageOf(minutes)).toBe(words))

  it('a proposal says what taking it does', () => {
    const part = { leaves: '', arrives: '2026-12-03', sure: true }
    const base: Proposal = {
      kind: 'split',
      parts: [
        { ...part, quantity: '6' },
        { ...part, quantity: '24' },
      ],
      last: '2026-12-03',
      depot_id: null,
      item_id: null,
      name: 'Saltmarsh',
    }
    expect(proposalOf(base)).toBe('In parts: 6 by 3 Dec, 24 by 3 Dec')
    expect(proposalOf({ ...base, kind: 'depot' })).toBe('From Saltmarsh, by 3 Dec')
  })
})
