import { describe, expect, it } from 'vitest'
import { promiseLines } from './promiseLines'
import type { Row } from './queries'

const row = (id: number, usual: string) => ({ item: { id }, unit: 'RL', usual }) as unknown as Row

describe('what is asked of the stock for the sheet', () => {
  it('is the usual quantity, and what is typed instead where something is', () => {
    const typed = [{ item_id: 2, quantity: '40', unit: 'RL', depot_id: null }]
    const asked = promiseLines([row(1, '6'), row(2, '12')], typed, null)
    expect(asked.map(({ key, quantity }) => [key, quantity])).toEqual([
      ['1', '6'],
      ['2', '40'],
    ])
  })
  it('is asked of the depot that is chosen; what is typed on another page is not asked again', () => {
    const typed = [{ item_id: 9, quantity: '40', unit: 'RL', depot_id: 2 }]
    const asked = promiseLines([row(1, '6')], typed, 2)
    expect(asked).toMatchObject([{ key: '1', depot_id: 2 }])
    expect(asked).toHaveLength(1)
  })
})
