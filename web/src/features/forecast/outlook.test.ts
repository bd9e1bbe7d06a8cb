import { describe, expect, it } from 'vitest'
import { chanceOf, nameOf, placesOf, sentenceOf, swingOf, type Period } from './outlook'

const period = (more: Partial<Period> = {}): Period => ({
  ...{ first: '2026-12-01', last: '2026-12-31', quarter: false, won: '10.00', count: 4 },
  ...{ weighted: '28.00', low: '15.00', middle: '25.00', high: '50.00' },
  ...{ target: '40.00', chance: 0.3025 },
  ...more,
})

describe('what may be won, drawn', () => {
  it('has all periods at one scale, the widest nearly across the line', () => {
    const [one, other] = placesOf([period(), period({ target: '100.00' })])
    expect(one).toEqual({ won: 9.4, low: 14.1, middle: 23.5, high: 47, target: 37.6 })
    expect(other?.target).toBe(94)
  })
  it('stands where nothing is to be decided and nothing is set', () => {
    const none = { won: '0.00', low: '0.00', middle: '0.00', high: '0.00', target: null }
    expect(placesOf([period({ ...none, chance: null })])[0]).toEqual({
      ...{ won: 0, low: 0, middle: 0, high: 0 },
      target: null,
    })
  })
  it('tells a chance in tenths, and both ends as what they are', () => {
    expect([0, 0.049, 0.06, 0.3025, 0.94, 0.96, 1].map(chanceOf)).toEqual([
      'under 1 in 20',
      'under 1 in 20',
      '1 in 10',
      '3 in 10',
      '9 in 10',
      'over 19 in 20',
      'over 19 in 20',
    ])
  })
  it('tells what a deal swings in hundredths', () => {
    expect([0.19, -0.031, 0.001, 0].map(swingOf)).toEqual(['± 19', '± 3', '–', '–'])
  })
  it('is a sentence for who hears it', () => {
    expect(nameOf(period({ first: '2026-10-01', quarter: true }))).toBe('Quarter 4, 2026')
    expect(sentenceOf(period())).toMatch(
      /^December 2026: 10\.00 won; from 15\.00 to 50\.00, in the middle 25\.00; 4 open deals\. 3 in 10 to reach 40\.00\.$/,
    )
  })
})
