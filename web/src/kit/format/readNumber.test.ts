import { describe, expect, it } from 'vitest'
import examples from '../../../../tests/shared/numbers.json'
import { useFormat } from './person'
import { readingsOf, readNumber } from './readNumber'

describe('a number as people write it', () => {
  it.each(examples)('$text', ({ text, values }) => {
    expect(readingsOf(text).map((reading) => reading.value)).toEqual(values)
  })
  it('in doubt is told with what it could be, not guessed', () => {
    expect(readNumber('1,200')).toEqual({ doubt: ['1200', '1.2'] })
    expect(readNumber('1.200')).toEqual({ doubt: ['1200', '1.2'] })
    expect(readNumber('1.20')).toEqual({ value: '1.2' })
  })
  it('is read by the format that a person chose, where they chose one', () => {
    useFormat('comma')
    expect([readNumber('1.200'), readNumber('1,200')]).toEqual([
      { value: '1200' },
      { value: '1.2' },
    ])
    useFormat('point')
    expect([readNumber('1.200'), readNumber('1,200')]).toEqual([
      { value: '1.2' },
      { value: '1200' },
    ])
    useFormat('house')
  })
  it('has as many decimals as its place takes', () => {
    expect(readNumber('12.345', 2)).toEqual({ value: '12345' })
    expect(readNumber('0.345', 2)).toBeNull()
  })
})
