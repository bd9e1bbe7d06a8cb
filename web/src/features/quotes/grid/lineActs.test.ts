import { describe, expect, it } from 'vitest'
import { newLine, type DeskLine } from '@/parts/line/line'
import type { Proposal } from '@/parts/promise/usePromises'
import { moved, numbersOf, withKind, without, withProposal, withSplit, withWords } from './lineActs'

const ITEM = { id: 1, code: 'POS-250', name: 'Post', sales_unit: 'H87', units: [] } as never
const line = (key: string, change: Partial<DeskLine> = {}): DeskLine => ({
  ...newLine(ITEM),
  key,
  ...change,
})
const words = (key: string): DeskLine => ({ ...newLine(null, 'heading'), key })
const keys = (lines: DeskLine[] | null) => lines?.map((each) => each.key).join('') ?? null

describe('acts on the lines', () => {
  it('move a line by a row, and none over the edge', () => {
    const lines = [line('a'), line('b'), line('c')]
    expect(keys(moved(lines, 0, 1))).toBe('bac')
    expect(keys(moved(lines, 2, -1))).toBe('acb')
    expect(moved(lines, 0, -1)).toBeNull()
    expect(moved(lines, 2, 1)).toBeNull()
    expect(moved(lines, 3, -1)).toBeNull() // the row on which a new line begins
    expect(keys(lines)).toBe('abc')
  })
  it('take one away and put words above one', () => {
    expect(keys(without([line('a'), line('b')], 0))).toBe('b')
    const made = withWords([line('a'), line('b')], 1, 'note')
    expect(made.map((each) => each.kind)).toEqual(['normal', 'note', 'normal'])
  })
  it('make an alternative to the counted line above, over headings and other alternatives', () => {
    const lines = [line('a'), line('b', { kind: 'optional' }), words('h'), line('c')]
    const made = withKind(lines, 3, 'alternative')!
    expect(made[3]).toMatchObject({ kind: 'alternative', alternative_to: 'a' })
    expect(withKind(made, 3, 'alternative')![3]).toMatchObject({
      kind: 'normal',
      alternative_to: '',
    })
    expect(withKind(made, 3, 'optional')![3]).toMatchObject({
      kind: 'optional',
      alternative_to: '',
    })
  })
  it('make no alternative where there is nothing to be one to, and none of words', () => {
    expect(withKind([line('a')], 0, 'alternative')).toBeNull()
    expect(withKind([line('a'), words('h')], 1, 'optional')).toBeNull()
    expect(withKind([line('a')], 1, 'optional')).toBeNull()
  })
  it('number what counts; what hangs on a line has its letter, words have none', () => {
    const hang = { kind: 'alternative' as const }
    const lines = [words('h'), line('a'), line('b', hang), line('c', hang), line('d')]
    expect(numbersOf(lines)).toEqual(['', '1', '1a', '1b', '2'])
    expect(numbersOf([line('a', { kind: 'optional' })])).toEqual(['1'])
  })
})

const proposal = (more: Partial<Proposal>): Proposal => ({
  kind: 'whole',
  parts: [],
  last: '2026-12-09',
  depot_id: null,
  item_id: null,
  name: '',
  ...more,
})
const part = (quantity: string, arrives: string) => ({
  quantity,
  leaves: arrives,
  arrives,
  sure: true,
})

describe('what a proposal makes of the lines', () => {
  const lines = [line('a'), line('b', { quantity: '30' }), line('c')]
  it('later: the day of the line', () => {
    const made = withProposal(lines, 'b', proposal({}))
    expect(made?.map((each) => each.wanted_on)).toEqual([null, '2026-12-09', null])
  })
  it('in parts: lines that add up, each with its day; the first keeps the key', () => {
    const parts = [part('6', '2026-11-30'), part('24', '2026-12-03')]
    const made = withProposal(lines, 'b', proposal({ kind: 'split', parts }))
    expect(made?.map((each) => each.quantity)).toEqual(['1', '6', '24', '1'])
    expect(made?.[1]?.key).toBe('b')
    expect(made?.[2]?.wanted_on).toBe('2026-12-03')
    expect(new Set(made?.map((each) => each.key)).size).toBe(4)
  })
  it('from another depot', () => {
    const made = withProposal(lines, 'b', proposal({ kind: 'depot', depot_id: 2 }))
    expect(made?.[1]?.depot_id).toBe(2)
  })
  it('another item takes the line, in its own base unit, priced by the rules', () => {
    const other = { id: 9, code: 'OTHER', name: 'Other', base_unit: 'H87' } as never
    const given = proposal({ kind: 'instead', item_id: 9, parts: [part('60', '2026-12-01')] })
    const typed = [line('b', { quantity: '30', price: '4', price_reason: 'agreed' })]
    const made = withProposal(typed, 'b', given, other)?.[0]
    expect([made?.key, made?.text, made?.quantity, made?.unit, made?.price]).toEqual([
      'b',
      'Other',
      '60',
      'H87',
      null,
    ])
    expect(withProposal(typed, 'b', given)).toBeNull()
  })
  it('of a line that is gone: nothing', () =>
    expect(withProposal(lines, 'x', proposal({}))).toBeNull())
})

it('a line in two keeps everything but its quantity', () => {
  const made = withSplit([line('a', { discount_percent: '5' })], 'a', '10', '4')
  expect(made.map((each) => [each.quantity, each.discount_percent])).toEqual([
    ['10', '5'],
    ['4', '5'],
  ])
  expect(made[0]?.key).toBe('a')
})
