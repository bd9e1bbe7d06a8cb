import { describe, expect, it } from 'vitest'
import { pauseFor, type Order } from './queries'

const NOW = Date.parse('2026-11-26T12:00:00Z')
const order = (change: Partial<Order>): Order =>
  ({ state: 'shipped', news: [], handover: null, changes: [], goods: [], ...change }) as Order
const handed = (at: string, taken: string | null) =>
  ({ created_at: at, taken_at: taken, state: taken ? 'taken' : 'waiting' }) as Order['handover']

describe('an order is asked for again', () => {
  it('soon while it is on its way to the back office, or news just came', () => {
    expect(pauseFor(undefined, NOW)).toBe(1500)
    expect(pauseFor(order({ handover: handed('2026-11-20T12:00:00Z', null) }), NOW)).toBe(1500)
    const fresh = [{ kind: 'taken', at: '2026-11-26T11:59:00Z', number: '', amount: null }]
    expect(pauseFor(order({ news: fresh }), NOW)).toBe(1500)
  })
  it('soon while an answer is awaited, to a change or to a request for goods', () => {
    const handover = handed('2026-11-01T12:00:00Z', '2026-11-01T12:00:05Z')
    const pause = (state: string) => [
      pauseFor(order({ handover, changes: [{ state }] as Order['changes'] }), NOW),
      pauseFor(order({ handover, goods: [{ state }] as Order['goods'] }), NOW),
    ]
    for (const state of ['waiting', 'under_way', 'asked'])
      expect(pause(state)).toEqual([1500, 1500])
    expect(pause('answered')).toEqual([15_000, 15_000])
  })
  it('seldom while it lies there for weeks, and more seldom once it is paid', () => {
    const old = handed('2026-11-01T12:00:00Z', '2026-11-01T12:00:05Z')
    expect(pauseFor(order({ handover: old }), NOW)).toBe(15_000)
    expect(pauseFor(order({ state: 'paid' }), NOW)).toBe(60_000)
  })
})
