import { expect, it, vi } from 'vitest'
import { serve, show, shown } from '@/test/server'
import MailsCard from './MailsCard.vue'
import type { Arrived } from './mails'

const came = (change: Partial<Arrived> = {}): Arrived => ({
  ...{ id: 5, version: 2, sender: 'Maren Holt', address: 'maren@g.example', subject: 'Re: Posts' },
  ...{ text: 'We accept.', files: [], left_out: 0, automatic: false, kind: 'quote', record: 7 },
  ...{ written_at: '2026-12-01T10:00:00Z', customer_id: 3, contact_id: 4, deal_id: null },
  ...{ laid_out: false, pictures: false },
  ...{ says: null, waits: true, settled_by: '' },
  ...change,
})
const YES = {
  ...{ kind: 'accepts', sentence: 'We accept.', order_number: 'PO-4711', wanted_on: null },
  sure: true,
}
async function card(mail: Arrived, may = true) {
  const sent: unknown[] = []
  serve(async (path, request) => {
    if (request.method === 'POST') sent.push(path, await request.json())
    return path.startsWith('/api/arrived-mails?') ? [mail] : []
  })
  const { wrapper } = show(MailsCard, { kind: 'quote', record: 7, may, name: 'Q-7' })
  await shown()
  return { wrapper, sent }
}

it('a yes to a quote leads to its order, with what the mail gives', async () => {
  const { wrapper } = await card(came({ says: YES }))
  expect(wrapper.find('.came .says').text()).toContain('their number PO-4711')
  expect(wrapper.find('.came .says a').attributes('href')).toBe('/orders/new?from=7&mail=5')
})

it('a yes to no quote, and one that is not for this person to take, lead nowhere', async () => {
  const other = await card(came({ says: YES, kind: 'deal' }))
  expect(other.wrapper.find('.came .says a').exists()).toBe(false)
  const read = await card(came({ says: YES }), false)
  expect(read.wrapper.find('.came .says a').exists()).toBe(false)
  expect(read.wrapper.find('.came .acts').exists()).toBe(false)
})

it('what a machine wrote waits for nobody', async () => {
  const { wrapper } = await card(came({ automatic: true, waits: false }))
  expect(wrapper.find('.came summary').text()).toContain('Automatic')
  expect(wrapper.find('.came .acts').exists()).toBe(false)
})

it('a mail that needs no answer is settled as it was seen', async () => {
  const { wrapper, sent } = await card(came())
  const acts = wrapper.findAll('.came .acts button')
  await acts.at(-1)!.trigger('click')
  await shown()
  expect(sent).toEqual(['/api/arrived-mails/5/waits', { version: 2, waits: false }])
})

it('is shown by its words, and as it was laid out only where that is asked for, without its pictures', async () => {
  const plain = await card(came())
  expect(plain.wrapper.text()).not.toContain('As it was laid out')
  const { wrapper } = await card(came({ laid_out: true, pictures: true }))
  expect(wrapper.find('iframe').exists()).toBe(false)
  const press = async (words: string) => {
    const button = wrapper.findAll('button').find((each) => each.text() === words)
    await button?.trigger('click')
    await shown()
  }
  await press('As it was laid out')
  await vi.waitUntil(() => wrapper.find('iframe').exists())
  const frame = wrapper.find('iframe')
  expect(frame.attributes('src')).toBe('/api/arrived-mails/5/page')
  expect(frame.attributes('sandbox')).not.toContain('scripts')
  await press('Fetch them')
  expect(frame.attributes('src')).toBe('/api/arrived-mails/5/page?pictures=true')
  await press('Its words alone')
  expect(wrapper.find('iframe').exists()).toBe(false)
})
