import { expect, it } from 'vitest'
import { stateOf } from './states'

it('says of a mail that came whether it waits', () => {
  expect(stateOf({ way: 'in', state: 'waits', elsewhere: false })).toBe('Waits for an answer')
  expect(stateOf({ way: 'in', state: 'automatic', elsewhere: false })).toBe('Automatic')
  expect(stateOf({ way: 'in', state: 'settled', elsewhere: false })).toBe('Came in')
})
it('says of one of ours how far it is, and that it went out from elsewhere', () => {
  expect(stateOf({ way: 'out', state: 'bounced', elsewhere: false })).toBe('Came back')
  expect(stateOf({ way: 'out', state: 'sent', elsewhere: true })).toBe('Sent, with another program')
})
