import { afterEach, expect, it } from 'vitest'
import MailPanel from '@/parts/mail/MailPanel.vue'
import { serve, show, shown } from '@/test/server'
import RemindPage from './RemindPage.vue'

const row = (revision_id: number) => ({
  ...{ revision_id, number: `Q-${revision_id}`, letter: 'A', customer: 'Wren', currency: 'EUR' },
  ...{ valid_until: '2026-12-02', payable: '10.00' },
})
afterEach(() => {
  document.body.innerHTML = ''
})

it('quotes about to lapse are written about in order; sent and passed over are told apart', async () => {
  const asked = serve(() => Promise.resolve({ rows: [row(7), row(8), row(9)], count: 3 }))
  const { wrapper } = show(RemindPage, {}, { stubs: { MailPanel: true } })
  const panel = () => wrapper.findComponent(MailPanel)
  const tell = async (...events: ('sent' | 'close')[]) => {
    const { vm } = panel()
    events.forEach((each) => vm.$emit(each))
    await shown()
  }
  await shown()
  expect(asked[0]).toContain('state=lapsing')
  await wrapper.get('.step').trigger('click')
  expect(panel().props('title')).toBe('Quote Q-7 A, 1 of 3')
  await tell('sent', 'close')
  expect(panel().props('title')).toBe('Quote Q-8 A, 2 of 3')
  await tell('close')
  expect(panel().props('title')).toBe('Quote Q-9 A, 3 of 3')
  await tell('sent', 'close')
  expect(panel().exists()).toBe(false)
  const words = wrapper.findAll('tbody tr').map((each) => each.findAll('td')[5]?.text())
  expect(words).toEqual(['Sent', 'passed over', 'Sent'])
  expect(wrapper.text()).toContain('All are looked through.')
})
