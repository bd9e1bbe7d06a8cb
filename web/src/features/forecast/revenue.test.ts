import { expect, it } from 'vitest'
import { leadOf, partsOf, type Revenue, type RevenueMonth } from './revenue'
import { asked, linked } from './whose'

const month = (invoiced: string, backlog: string, weighted: string, target: string | null) => {
  const total = String(Number(invoiced) + Number(backlog) + Number(weighted))
  return { month: '2026-11', invoiced, backlog, weighted, total, target } as RevenueMonth
}

it('all months are drawn at one scale, a month of credit notes as nothing', () => {
  const [whole, half, less] = partsOf([
    month('100', '0', '0', null),
    month('0', '25', '25', '50'),
    month('-40', '0', '0', null),
  ])
  expect(whole).toEqual({ invoiced: 96, backlog: 0, weighted: 0, target: null })
  expect(half).toEqual({ invoiced: 0, backlog: 24, weighted: 24, target: 48 })
  expect(less?.invoiced).toBe(0)
  // A target beyond every month is the scale.
  expect(partsOf([month('1', '0', '0', '4')])[0]?.invoiced).toBe(24)
})

it('how long it takes is told with how it is known, and that it is not', () => {
  const told = (days: number, invoices: number, own: boolean) =>
    leadOf({ lead: { days, invoices, own } } as Revenue)
  expect(told(1, 12, true)).toContain('1 day after')
  expect(told(12, 410, true)).toContain('410 invoices')
  expect(told(9, 40, false)).toContain('whole house')
  expect(told(0, 0, false)).toContain('too few invoices')
})

it('a group is asked for only with its customer, and lists of invoices know no confidence', () => {
  const values = { owner: '3', team: '', confidence: 'sure', customer: '', family: 'true' }
  expect(asked(values)).toEqual({ owner: 3, team: undefined, confidence: 'sure', customer: undefined, family: undefined }) // prettier-ignore
  expect(linked(values)).toEqual({ owner: '3', confidence: 'sure' })
  const whole = { ...values, customer: '7' }
  expect(asked(whole)).toMatchObject({ customer: 7, family: true })
  expect(linked(whole, false)).toEqual({ owner: '3', customer: '7', family: 'true' })
})
