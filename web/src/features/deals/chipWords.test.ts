import { expect, it } from 'vitest'
import { whyStale, wordsOf } from './chipWords'
import type { DealRow } from './queries'

const deal = {
  customer: 'Two Elms',
  title: 'Wire',
  amount: '500.00',
  stage_name: 'Talking',
  decision_on: '2026-12-04',
  confidence: 'likely',
  overdue: true,
  stale: ['no_step', 'quiet'],
} as unknown as DealRow

it('a chip says why nobody seems to look after its deal, its day first, and that it is chosen', () => {
  expect(whyStale(deal)).toEqual(['its day has gone by', 'no next step', 'nothing done for long'])
  expect(wordsOf(deal, true)).toMatch(/^Two Elms, Wire, .*; its day has gone by; .*; chosen$/)
  expect(wordsOf({ ...deal, overdue: false, stale: [] })).not.toContain(';')
})
