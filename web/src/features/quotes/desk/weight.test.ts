import { describe, expect, it } from 'vitest'
import { figure } from '@/kit/format/format'
import { weightOf } from './weight'

const sterling = {
  currency: 'GBP',
  payable: '711.60',
  rate: '1.1651',
  base_currency: 'EUR',
  base_payable: '829.09',
  base_left: '22521.89',
  left: '19330.44',
}

describe('what a quote weighs', () => {
  it('is said in its own currency and in the house’s', () =>
    expect(weightOf(sterling, false)).toEqual([
      'This quote comes to 711.60 GBP: 829.09 EUR at 1.1651.',
      `Left of the limit after it: ${figure('22521.89')} EUR, or ${figure('19330.44')} GBP.`,
    ]))
  it('is said once where both are one', () => {
    const euro = { ...sterling, currency: 'EUR', rate: '1', base_payable: '711.60' }
    expect(weightOf(euro, false)).toEqual([
      'This quote comes to 711.60 EUR.',
      `Left of the limit after it: ${figure('22521.89')} EUR.`,
    ])
  })
  it('is counted already once it is ordered', () =>
    expect(weightOf(sterling, true)[1]).toContain('It is ordered and counted'))
  it('leaves nothing to say where no limit is set', () =>
    expect(weightOf({ ...sterling, base_left: null, left: null }, false)).toHaveLength(1))
})
