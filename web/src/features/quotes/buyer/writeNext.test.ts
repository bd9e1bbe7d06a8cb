import { expect, it } from 'vitest'
import { isNext, writeNext } from './writeNext'

it('one issued quote is written about once, no other', () => {
  writeNext(7)
  expect([isNext(8), isNext(7), isNext(7)]).toEqual([false, true, false])
  writeNext(0)
  expect(isNext(7)).toBe(false)
})
