import { describe, expect, it } from 'vitest'
import { newLine, type DeskLine } from '@/parts/line/line'
import { moved, numbersOf, withKind, without, withWords } from './lineActs'

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
