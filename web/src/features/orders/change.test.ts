import { describe, expect, test } from 'vitest'
import { changeOf, isOpen, nothingTyped, whereIs, wishOf } from './change'
import type { Order } from './queries'

const line = (more: object = {}) =>
  ({
    id: 5,
    quantity: '20',
    shipped: '0',
    service: false,
    wanted_on: '2026-12-01',
    ...more,
  }) as Order['lines'][number]
const order = (state: string | null, lines = [line()]) =>
  ({
    version: 3,
    buyer_reference: 'PO 1',
    requested_on: null,
    lines,
    handover: state ? { state } : null,
  }) as Order
const typed = (
  quantity: string,
  day: string | null = null,
  place: number | null = null,
  depot: number | null = null,
) => ({ quantity, day, place, depot })

describe('a change of an order', () => {
  test('only what differs is sent', () => {
    expect(wishOf(line(), undefined)).toBeNull()
    expect(wishOf(line(), typed('20', '2026-12-01'))).toBeNull()
    expect(wishOf(line(), typed(' 7 '))).toEqual({ line_id: 5, quantity: '7' })
    expect(wishOf(line({ depot_id: 2 }), typed('', null, null, 2))).toBeNull()
    expect(wishOf(line({ depot_id: 2 }), typed('', null, null, 1))).toEqual({
      line_id: 5,
      depot_id: 1,
    })
    expect(wishOf(line(), typed('0', '2026-12-24', 9))).toEqual({
      line_id: 5,
      quantity: '0',
      wanted_on: '2026-12-24',
      address_id: 9,
    })
  })
  test('what cannot be read, or could be two numbers, is not sent', () => {
    const given = { ...nothingTyped(), lines: { 5: typed('some') } }
    expect(changeOf(order(null), given).unread?.id).toBe(5)
    expect(changeOf(order(null), { ...given, lines: { 5: typed('1,234') } }).unread?.id).toBe(5)
  })
  test('the whole of it changes only while the back office does not have it', () => {
    const given = { ...nothingTyped(), reference: 'PO 2', wanted: '2026-12-24', address: 4 }
    const head = { buyer_reference: 'PO 2', requested_on: '2026-12-24', address_id: 4 }
    for (const state of [null, 'refused']) {
      expect(changeOf(order(state), given)).toMatchObject({ says: true, body: { head } })
    }
    expect(changeOf(order('taken'), given)).toEqual({
      body: { version: 3, reason: '', lines: [] },
      says: false,
      unread: null,
    })
  })
  test('where the order is decides what can be done', () => {
    expect(
      [null, 'refused', 'waiting', 'under_way', 'taken', 'held'].map((s) => whereIs(order(s))),
    ).toEqual(['here', 'here', 'way', 'way', 'theirs', 'theirs'])
  })
  test('what left or is not wanted any more does not change', () => {
    const every = [
      line(),
      line({ shipped: '20' }),
      line({ quantity: '0' }),
      line({ service: true }),
    ]
    expect(every.map(isOpen)).toEqual([true, false, false, true])
  })
})
