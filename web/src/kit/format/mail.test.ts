import { expect, it } from 'vitest'
import { mailTo } from './mail'

it('a link to write a mail carries the address and nothing beside it', () => {
  expect(mailTo('maren@orchards.example')).toBe('mailto:maren@orchards.example')
  const link = mailTo('a?bcc=x@evil.example&body=y@z.example')
  expect([link.includes('?'), link.includes('&')]).toEqual([false, false])
})
