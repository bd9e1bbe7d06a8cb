import { expect, it } from 'vitest'
import { movedTo } from './visits'

it('one visit changes places with its neighbour; the first and the last stay inside', () => {
  expect(movedTo([4, 7, 9], 7, -1)).toEqual([7, 4, 9])
  expect(movedTo([4, 7, 9], 7, 1)).toEqual([4, 9, 7])
  expect(movedTo([4, 7, 9], 4, -1)).toBe(null)
  expect(movedTo([4, 7, 9], 9, 1)).toBe(null)
  expect(movedTo([4, 7, 9], 5, 1)).toBe(null)
})
