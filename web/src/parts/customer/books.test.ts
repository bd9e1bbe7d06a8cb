import { expect, it } from 'vitest'
import { figure } from '@/kit/format/format'
import { differing } from './books'

it('what the back office says and what ours come to stand beside each other, by currency', () => {
  const said = differing([
    { currency: 'CHF', told: '5.00', ours: '0.00' },
    { currency: 'EUR', told: '11250.00', ours: '11451.24' },
  ])
  expect(said).toBe(
    `The back office says that 5.00 CHF, ${figure('11250.00')} EUR is open; ` +
      `ours come to 0.00 CHF, ${figure('11451.24')} EUR.`,
  )
})
