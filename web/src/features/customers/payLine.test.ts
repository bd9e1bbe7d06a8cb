import { describe, expect, it } from 'vitest'
import { pathOf, spanOf } from './payLine'

describe('the line of days to pay', () => {
  it('has a scale of whole tens, never below ten', () => {
    expect(spanOf([3, null])).toBe(10)
    expect(spanOf([31, 12])).toBe(40)
    expect(spanOf([])).toBe(10)
  })
  it('breaks where nothing was paid in a month', () => {
    const { paths, dots } = pathOf([10, null, 5, 10], 90, 20)
    expect(paths).toEqual(['M0 0', 'M60 10L90 0'])
    expect(dots).toHaveLength(3)
  })
  it('stays on the ground for payments before the invoice', () => {
    expect(pathOf([-4], 90, 20).dots).toEqual([{ x: 0, y: 20 }])
  })
})
