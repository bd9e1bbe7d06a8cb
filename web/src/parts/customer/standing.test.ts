import { mount } from '@vue/test-utils'
import { expect, test } from 'vitest'
import type { Shapes } from '@/api/client'
import StandingReasons from './StandingReasons.vue'

type Reason = Shapes['ReasonOut']
const reason = (code: string, of: Reason['of'], amount: string | null, days: number | null) => ({
  code, of, amount, days, verdict: 'halt' as const,
}) // prettier-ignore

const told = (reasons: Reason[], after = false) =>
  mount(StandingReasons, {
    props: { standing: { reasons, currency: 'EUR' } as Shapes['StandingOut'], after },
  })
    .findAll('li')
    .map((row) => row.text())

test('a reason says whose it is: one’s own, the group’s, the parent’s', () => {
  expect(
    told([
      reason('over_limit', '', '12.50', null),
      reason('over_limit', 'group', '7.00', null),
      reason('near_limit', 'group', '0.00', null),
      reason('held', 'parent', null, null),
      reason('overdue_beyond_tolerance', 'parent', '99.00', 31),
    ]),
  ).toEqual([
    '12.50 EUR over the credit limit.',
    '7.00 EUR over the group’s credit limit.',
    'Nothing left of the group’s limit.',
    'The parent of the group is held by the back office.',
    'The parent of the group is overdue by 31 days: longer than is tolerated.',
  ])
})

test('with a quote at hand the group’s limit is told after it', () => {
  expect(told([reason('over_limit', 'group', '7.00', null)], true)).toEqual([
    '7.00 EUR over the group’s credit limit after this quote.',
  ])
})
