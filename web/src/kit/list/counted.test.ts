import { describe, expect, it } from 'vitest'
import { counted, countedHint } from './counted'

const words = (n: number) => `${n} in this filter`

describe('a list', () => {
  it('tells how many rows it has', () => {
    const found = { count: 12, more: false }
    expect([counted(found), countedHint(found, words)]).toEqual(['12', '12 in this filter'])
  })
  it('that is longer than what is counted says so, and how to see its sums', () => {
    const found = { count: 10000, more: true }
    expect(counted(found)).toMatch(/^more than 10.000$/)
    expect(countedHint(found, words)).toBe('Narrow the filter to see what it sums to')
  })
  it('that is not there yet says nothing', () => {
    expect([counted(undefined), countedHint(undefined, words)]).toEqual(['', ''])
  })
})
