import { expect, it } from 'vitest'
import { serve, show, shown } from '@/test/server'
import MailboxesCard from './MailboxesCard.vue'

const box = {
  version: 3,
  looked_at: null,
  fault: '',
  shared: false,
  mine: true,
  server: 'imap:993',
}
const HOUSE = { ...box, id: 1, name: 'sales@q.example', server: '', shared: true, mine: false }
const OWN = { ...box, id: 2, name: 'ilse@q.example', fault: 'its password was sealed' }

it('the house’s own is nobody’s to change, and what is wrong with one’s own is told', async () => {
  serve(() => ({ rows: [HOUSE, OWN], servers: ['imap:993'], may_share: false }))
  const { wrapper } = show(MailboxesCard)
  await shown()
  const [house, own] = wrapper.findAll('li')
  expect(house!.find('button').exists()).toBe(false)
  expect(own!.find('.fault').text()).toBe('its password was sealed')
  expect(own!.findAll('button')).toHaveLength(2)
})

it('a mailbox is added with the server that is offered, and its password is not kept', async () => {
  const sent: unknown[] = []
  serve(async (_, request) => {
    if (request.method === 'POST') sent.push(await request.json())
    return request.method === 'POST' ? OWN : { rows: [], servers: ['imap:993'], may_share: false }
  })
  const { wrapper } = show(MailboxesCard)
  await shown()
  await wrapper.get('button').trigger('click')
  await wrapper.get('input[name=mailbox]').setValue(' ilse@q.example ')
  await wrapper.get('input[type=password]').setValue('a word')
  await wrapper.get('form.fields').trigger('submit')
  await shown()
  const wanted = { server: 'imap:993', name: 'ilse@q.example', password: 'a word', shared: false }
  expect(sent).toEqual([wanted])
  expect(wrapper.find('form.fields').exists()).toBe(false)
})
