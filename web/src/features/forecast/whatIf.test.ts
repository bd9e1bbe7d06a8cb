import { expect, it } from 'vitest'
import { asksWhy, backOf, changesOf, think, thoughtsOf, type DecidingDeal } from './whatIf'

const deal = {
  id: 7,
  version: 3,
  amount: '1200.00',
  quoted: false,
  decision_on: '2026-12-04',
  probability: '60',
  own: false,
  reason: '',
} as DecidingDeal

it('a thought that says what stands there anyway is none, however it is written', () => {
  const known = think({}, deal, { amount: '900', probability: '80' })
  expect(known).toEqual({ 7: { amount: '900', probability: '80' } })
  expect(think(known, deal, { amount: '1200' })).toEqual({ 7: { probability: '80' } })
  expect(think(think(known, deal, { amount: '1200.00' }), deal, { probability: '60.0' })).toEqual(
    {},
  )
  expect(think({}, deal, { out: false })).toEqual({})
})

it('taken back, everything is as it was before', () => {
  const other = { ...deal, id: 8 }
  const before = think({}, other, { out: true })
  const after = think(think(before, deal, { decision_on: '2027-01-08' }), deal, {
    decision_on: '2026-12-04',
  })
  expect(after).toEqual(before)
})

it('a deal left out, and an amount that a quote says, are asked about but not kept', () => {
  const quoted = { ...deal, id: 8, quoted: true }
  const known = {
    7: { out: true, probability: '90' },
    8: { amount: '5', decision_on: '2027-01-08' },
  }
  expect(thoughtsOf(known)).toEqual([
    { id: 7, out: true, probability: '90' },
    { id: 8, out: false, amount: '5', decision_on: '2027-01-08' },
  ])
  expect(asksWhy(known)).toBe(false)
  expect(changesOf(known, [deal, quoted], '')).toEqual([
    { id: 8, version: 3, decision_on: '2027-01-08' },
  ])
  expect(changesOf({ 8: { amount: '5' } }, [quoted], '')).toEqual([])
})

it('what is kept is taken back from the version it has then, to the chance of the stage or the own one', () => {
  const own = { ...deal, id: 8, own: true, reason: 'The board meets' }
  const known = { 7: { probability: '80', amount: '900' }, 8: { probability: '0' } }
  const changes = changesOf(known, [deal, own], 'They called')
  expect(asksWhy(known)).toBe(true)
  expect(changes.map((each) => each.probability_reason)).toEqual(['They called', 'They called'])
  const now = [
    { id: 7, version: 4 },
    { id: 8, version: 9 },
  ] as never
  expect(backOf(changes, [deal, own], now)).toEqual([
    { id: 7, version: 4, estimate: '1200.00', stage_probability: true },
    { id: 8, version: 9, probability: '60', probability_reason: 'The board meets' },
  ])
  // One that is not there any more is not asked for.
  expect(backOf(changes, [deal, own], [])).toEqual([])
})
