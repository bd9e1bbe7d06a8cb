import { expect, it } from 'vitest'
import { serve, show, shown } from '@/test/server'
import WordEditions from './WordEditions.vue'

it('leads back to an edition with words, not to the one that holds or to one that took them back', async () => {
  const edition = (id: number, body: string) => ({
    ...{ id, body, subject: body ? `Offer ${id}` : '', by: 'Ada', at: '2026-11-26T10:00:00Z' },
  })
  serve(() => [edition(3, 'Good day'), edition(2, ''), edition(1, 'Hello')])
  const { wrapper } = show(WordEditions, { kind: 'quote', language: 'en', busy: false })
  await shown()
  const buttons = wrapper.findAll('button')
  expect(wrapper.findAll('li')).toHaveLength(3)
  expect(buttons).toHaveLength(1)
  await buttons[0]!.trigger('click')
  expect(wrapper.emitted('back')).toMatchObject([[{ subject: 'Offer 1', body: 'Hello' }]])
})
