import { ref } from 'vue'
import { describe, expect, it } from 'vitest'
import type { Row } from './queries'
import { useTyped, type Texts } from './typed'

const row = (id: number, more: Partial<Row> = {}): Row =>
  ({
    item: { id, code: `IT-${id}` },
    unit: 'RL',
    usual: '6',
    habit: { last_quantity: '12' },
    purchases: [],
    buyers: 1,
    price: null,
    ...more,
  }) as unknown as Row

describe('quantities typed down the sheet', () => {
  it('are kept by item, in the unit of its row, whatever is shown', () => {
    const typed = useTyped(ref<Texts>({}))
    typed.type(row(1), '3')
    typed.type(row(2), '1 200')
    expect(typed.lines.value).toEqual([
      { item_id: 1, quantity: '3', unit: 'RL', depot_id: null },
      { item_id: 2, quantity: '1200', unit: 'RL', depot_id: null },
    ])
    expect(typed.textOf(row(2))).toBe('1 200')
  })
  it('leave from the depot that is chosen for the sheet, also what was typed before', () => {
    const depot = ref<number | null>(null)
    const typed = useTyped(ref<Texts>({}), () => depot.value)
    typed.type(row(1), '3')
    depot.value = 2
    typed.type(row(2), '4')
    expect(typed.lines.value.map((line) => line.depot_id)).toEqual([2, 2])
  })
  it('stand in the order in which they were typed, also after a change', () => {
    const typed = useTyped(ref<Texts>({}))
    for (const id of [9, 2, 5]) typed.type(row(id), '1')
    typed.type(row(9), '7')
    expect(typed.lines.value.map((line) => line.item_id)).toEqual([9, 2, 5])
  })
  it('"=" is the last quantity, or the usual where nothing was bought', () => {
    const typed = useTyped(ref<Texts>({}))
    typed.type(row(1), '=')
    typed.type(row(2, { habit: null }), '=')
    expect(typed.lines.value.map((line) => line.quantity)).toEqual(['12', '6'])
  })
  it('an emptied cell and a nought are no line', () => {
    const texts = ref<Texts>({})
    const typed = useTyped(texts)
    typed.type(row(1), '3')
    typed.type(row(1), ' ')
    typed.type(row(2), '0')
    expect(typed.lines.value).toEqual([])
    expect(Object.keys(texts.value)).toEqual(['item-2'])
    expect(typed.unread.value).toEqual([])
  })
  it('what cannot be read is no line, and says why', () => {
    const typed = useTyped(ref<Texts>({}))
    typed.type(row(1), '3x')
    typed.type(row(2), '1,200')
    expect(typed.lines.value).toEqual([])
    expect(typed.unread.value).toEqual(['IT-1', 'IT-2'])
    expect(typed.reasonOf(row(1))).toBe('This is no number.')
    expect(typed.reasonOf(row(2))).toContain('1200')
    expect(typed.reasonOf(row(3))).toBe('')
  })
})
