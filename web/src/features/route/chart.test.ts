import { describe, expect, test } from 'vitest'
import { linesOf, sizeOf, towards, treeOf, type Stop, type Whole } from './chart'

const stop = (id: string, column: number, row: number, origins: string[] = []) =>
  ({ id, name: id.toUpperCase(), column, row, origins, open: false }) as unknown as Stop
const whole = {
  columns: ['order', 'delivery', 'invoice', 'payment'],
  rows: 2,
  nodes: [
    stop('o', 0, 0),
    stop('d', 1, 0, ['o']),
    stop('e', 1, 1, ['o']),
    stop('i', 2, 0, ['d']),
    stop('j', 2, 1, ['e']),
    stop('p', 3, 0, ['i', 'j']),
  ],
} as unknown as Whole
const at = (id: string) => whole.nodes.find((each) => each.id === id)!

describe('the whole Route', () => {
  test('one payment over two invoices joins their lines', () => {
    const lines = linesOf(whole)
    expect(lines.map((line) => line.id)).toEqual(['o d', 'o e', 'd i', 'e j', 'i p', 'j p'])
    expect(lines[0]?.path).toBe('M22 44H178')
    expect(lines[5]?.path).toBe('M334 102H440c20 0 20 -58 40 -58H490')
  })
  test('it is as large as its columns and rows', () => {
    expect(sizeOf(whole)).toEqual({ width: 646, height: 160 })
  })
  test('as a tree each stop is told once, with the other lines that it joins', () => {
    expect(treeOf(whole).map(({ stop, level, joins }) => [stop.id, level, joins])).toEqual([
      ['o', 1, []],
      ['d', 2, []],
      ['i', 3, []],
      ['p', 4, ['J']],
      ['e', 2, []],
      ['j', 3, []],
    ])
  })
  test('arrows lead to the nearest stop in their direction', () => {
    expect(towards(whole, at('o'), 'ArrowRight')?.id).toBe('d')
    expect(towards(whole, at('d'), 'ArrowDown')?.id).toBe('e')
    expect(towards(whole, at('j'), 'ArrowRight')?.id).toBe('p')
    expect(towards(whole, at('p'), 'ArrowLeft')?.id).toBe('i')
    expect(towards(whole, at('o'), 'ArrowLeft')).toBeNull()
    expect(towards(whole, at('o'), 'Enter')).toBeNull()
  })
})
