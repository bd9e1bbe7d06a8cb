import { describe, expect, it } from 'vitest'
import type { Shapes } from '@/api/client'
import {
  around,
  lineOf,
  mailLine,
  otherReadings,
  ready,
  withItem,
  withQuantity,
  withTaken,
  withUnit,
} from './mailLines'
import { isProse } from './prose'

const unit = (code: string) => ({ code, name: code, factor: '1' })
const item = (id: number, units = ['H87', 'PF']) =>
  ({
    id,
    code: `I-${id}`,
    name: `Item ${id}`,
    sales_unit: units[0],
    units: units.map(unit),
  }) as unknown as Shapes['ItemOut']
const found = (more: Partial<Shapes['MailLineOut']> = {}): Shapes['MailLineOut'] => ({
  number: 1,
  sentence: 'Please send 300 chestnut posts.',
  words: 'chestnut posts',
  quantity: '300',
  others: [],
  unit: 'PF',
  meant: [
    { item: item(1), share: 100 },
    { item: item(2, ['RL']), share: 100 },
  ],
  doubts: [],
  agreement: 'FA-1',
  ...more,
})

describe('a line of a mail', () => {
  it('is ticked where it is sure, and waits for a person where it is not', () => {
    expect(mailLine(found()).taken).toBe(true)
    const doubtful = mailLine(found({ doubts: ['item', 'unit'] }))
    expect([doubtful.taken, ready(doubtful)]).toEqual([false, false])
    expect(withTaken(doubtful, true)).toMatchObject({ taken: true, doubts: [] })
  })
  it('whose number reads two ways offers the other, and the first again', () => {
    const line = mailLine(found({ quantity: '2500', others: ['2.5'], doubts: ['quantity'] }))
    expect(otherReadings(line)).toEqual(['2.5'])
    const chosen = withQuantity(line, '2.5')
    expect([chosen.taken, otherReadings(chosen)]).toEqual([true, ['2500']])
    expect(otherReadings(mailLine(found()))).toEqual([])
  })
  it('of another item keeps its unit only where that has it, and offers its words', () => {
    const other = withItem(mailLine(found({ doubts: ['item'] })), item(2, ['RL']))
    expect(other).toMatchObject({
      unit: 'RL',
      corrected: true,
      taken: true,
      doubts: [],
      agreement: '',
    })
    expect(withItem(other, item(1)).agreement).toBe('')
  })
  it('whose likeliest item is confirmed where that was in doubt offers its words as well', () => {
    expect(withItem(mailLine(found({ doubts: ['item'] })), item(1)).corrected).toBe(true)
    expect(withItem(mailLine(found()), item(1)).corrected).toBe(false)
  })
  it('without a number is not added, until one is typed', () => {
    const open = withTaken(mailLine(found({ quantity: null, doubts: ['quantity'] })), true)
    expect(ready(open)).toBe(false)
    expect(ready(withQuantity(open, 'many'))).toBe(false)
    expect(lineOf(withQuantity(open, '12'))).toMatchObject({
      quantity: '12',
      unit: 'PF',
    })
  })
  it('loses one doubt with one answer', () => {
    const doubtful = mailLine(found({ doubts: ['quantity', 'unit'] }))
    expect(withUnit(doubtful, 'H87')).toMatchObject({
      unit: 'H87',
      doubts: ['quantity'],
      taken: true,
    })
  })
})

describe('the words in a sentence', () => {
  it('stand in its middle', () => {
    expect(around('Send 12 Hail Nets now', 'hail nets')).toEqual(['Send 12 ', 'Hail Nets', ' now'])
    expect(around('Row · 12', 'hail nets')).toEqual(['Row · 12', '', ''])
  })
})

describe('what is pasted', () => {
  it('is a mail where it has sentences, and a table where it has cells', () => {
    expect(isProse('Dear Ilse,\nplease send us 12 hail nets and 300 posts.')).toBe(true)
    expect(isProse('POS-250\t12\nNET-730\t4')).toBe(false)
    expect(isProse('Hail net, black; 12; roll\nNet clip; 200; pieces')).toBe(false)
    expect(isProse('12 hail nets\n300 posts')).toBe(false)
  })
})
