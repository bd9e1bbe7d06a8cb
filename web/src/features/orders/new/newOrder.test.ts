import { describe, expect, it } from 'vitest'
import { defineComponent, h, nextTick, ref } from 'vue'
import type { Shapes } from '@/api/client'
import { Fault } from '@/api/fault'
import { serve, show } from '@/test/server'
import { quantityOf } from '@/parts/regulars/typed'
import { sourcesOf, type Plan, type Split } from './splits'
import { useNewOrder } from './useNewOrder'

const line = (key: string, left: string, more: object = {}) =>
  ({
    key,
    kind: 'normal',
    alternative_to: '',
    item: key,
    text: key,
    unit: 'H87',
    offered: left,
    ordered: '0',
    left,
    net: '1.00',
    replaced: false,
    ...more,
  }) as Shapes['OfferedOut']
const offer = (revision_id: number, lines: Shapes['OfferedOut'][]) =>
  ({
    revision_id,
    version: 2,
    number: `Q ${revision_id}`,
    lines,
    left: 0,
  }) as Plan['offers'][number]
const split = (quantity: string, more: Partial<Split> = {}): Split => ({
  quantity,
  depot: null,
  day: null,
  place: null,
  ...more,
})

describe('what is typed as a quantity', () => {
  it('is a number, in doubt, unreadable, or nothing', () => {
    expect(quantityOf('12,5')).toEqual({ quantity: '12.5' })
    expect(quantityOf('1.234')).toHaveProperty('reason')
    expect(quantityOf('a dozen')).toHaveProperty('reason')
    expect([quantityOf(' '), quantityOf('0')]).toEqual([null, null])
  })
})

describe('what is sent of it', () => {
  it('is every part of every line that has a quantity, under the offer it is of', () => {
    const typed: Record<string, Split[]> = {
      '1:a': [split('12'), split('8', { place: 5, day: '2026-12-01' })],
      '1:b': [split('')],
      '2:a': [split('3')],
    }
    const offers = [offer(1, [line('a', '20'), line('b', '3')]), offer(2, [line('a', '3')])]
    const { sent, sources } = sourcesOf(offers, (r, key) => typed[`${r}:${key}`] ?? [])
    expect(sent).toEqual([
      { offer: 1, key: 'a', split: 0 },
      { offer: 1, key: 'a', split: 1 },
      { offer: 2, key: 'a', split: 0 },
    ])
    expect(sources.map((each) => [each.revision_id, each.version, each.lines?.length])).toEqual([
      [1, 2, 2],
      [2, 2, 1],
    ])
    expect(sources[0]?.lines?.[1]).toMatchObject({ address_id: 5, wanted_on: '2026-12-01' })
  })
  it('leaves an offer out of which nothing is ordered', () => {
    expect(sourcesOf([offer(1, [line('a', '20')])], () => [split('')]).sources).toEqual([])
  })
})

/** A plan as the server answers it: all rows that were asked for, or all that is left. */
function answer(body: Shapes['PlanIn']): Plan {
  const lines = [
    line('a', '20'),
    line('c', '7', { kind: 'alternative', alternative_to: 'a' }),
    line('b', '3'),
  ]
  const wants = body.sources[0]?.lines ?? [
    { key: 'a', quantity: '20' },
    { key: 'b', quantity: '3' },
  ]
  return {
    mark: JSON.stringify(wants),
    payable: String(wants.length),
    offers: [offer(1, lines)],
    rows: wants.map(({ key, quantity }) => ({
      offer: 0,
      key,
      quantity,
      net: '5.00',
      beyond: false,
    })),
    promises: { lines: [] },
    buyer_reference: 'PO 7',
    requested_on: null,
    usual_address_id: 3,
    beyond: false,
  } as unknown as Plan
}

function open() {
  let order!: ReturnType<typeof useNewOrder>
  const Page = defineComponent(() => {
    order = useNewOrder(7, ref([1]))
    return () => h('p')
  })
  show(Page)
  return order
}
const asked = () =>
  serve((_, request) => request.json().then((body: Shapes['PlanIn']) => answer(body)))

describe('an order that is being written', () => {
  it('starts with all that is left, and keeps nothing that nobody typed', async () => {
    asked()
    const order = open()
    await expect.poll(() => order.plan.value?.rows.length).toBe(2)
    expect(order.rowsOf(1, 'a')[0]?.quantity).toBe('20')
    expect(order.rowsOf(1, 'c')[0]?.quantity).toBe('')
    expect(order.terms.value).toEqual({
      reference: 'PO 7',
      wanted: null,
      place: 3,
      parts: true,
    })
    expect(localStorage.length).toBe(0)
  })
  it('sends what is seen and no other mark', async () => {
    asked()
    const order = open()
    await expect.poll(() => order.plan.value).toBeTruthy()
    order.type(1, line('b', '3'), 0, { quantity: '' })
    expect(order.stale.value).toBe(true)
    await expect.poll(() => order.stale.value).toBe(false)
    const body = order.body(order.plan.value!)
    expect(body.sources[0]?.lines).toHaveLength(1)
    expect(body.seen.mark).toBe(JSON.stringify(body.sources[0]?.lines))
  })
  it('takes all that is left by "=", and what was typed is there again', async () => {
    asked()
    const order = open()
    await expect.poll(() => order.plan.value).toBeTruthy()
    order.type(1, line('a', '20'), 0, { quantity: '7' })
    await nextTick()
    expect(open().rowsOf(1, 'a')[0]?.quantity).toBe('7')
    order.type(1, line('a', '20'), 0, { quantity: '=' })
    expect(order.rowsOf(1, 'a')[0]?.quantity).toBe('20')
  })
  it('puts an alternative in the place of its line, and back', async () => {
    asked()
    const order = open()
    await expect.poll(() => order.base.data.value).toBeTruthy()
    const [original, other] = order.base.data.value!.offers[0]!.lines
    order.instead(1, other!, original!)
    expect([order.rowsOf(1, 'a')[0]?.quantity, order.rowsOf(1, 'c')[0]?.quantity]).toEqual([
      '',
      '7',
    ])
    order.instead(1, other!, original!)
    expect([order.rowsOf(1, 'a')[0]?.quantity, order.rowsOf(1, 'c')[0]?.quantity]).toEqual([
      '20',
      '',
    ])
  })
  it('divides a line and joins it again', async () => {
    asked()
    const order = open()
    await expect.poll(() => order.base.data.value).toBeTruthy()
    order.divide(1, 'a')
    order.type(1, line('a', '20'), 1, { quantity: '8', place: 9 })
    expect(order.rowsOf(1, 'a').map((row) => row.quantity)).toEqual(['20', '8'])
    order.join(1, 'a', 1)
    expect(order.rowsOf(1, 'a')).toHaveLength(1)
  })
  it('tells a refused quantity at its part, and what is unread as such', async () => {
    serve((_, request) =>
      request.json().then((body: Shapes['PlanIn']) => {
        const rows = body.sources[0]?.lines ?? []
        if (!rows.some((row) => row.key === 'b' && row.quantity === '2')) return answer(body)
        return new Fault(422, 'not_a_multiple', '', 'sources[0].lines[1].quantity', {
          what: 'part',
        })
      }),
    )
    const order = open()
    await expect.poll(() => order.plan.value).toBeTruthy()
    order.type(1, line('b', '3'), 0, { quantity: '2' })
    await expect.poll(() => order.reasonOf(1, 'b', 0)).not.toBe('')
    expect(order.reasonOf(1, 'a', 0)).toBe('')
    order.type(1, line('b', '3'), 0, { quantity: 'two' })
    expect([order.unread.value, order.reasonOf(1, 'b', 0) !== '']).toEqual([true, true])
  })
})
