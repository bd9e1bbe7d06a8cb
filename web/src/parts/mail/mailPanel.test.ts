import { afterEach, beforeEach, expect, it } from 'vitest'
import type { Shapes } from '@/api/client'
import { me } from '@/api/session'
import { serve, show, shown } from '@/test/server'
import MailPanel from './MailPanel.vue'

const person = (contact_id: number, name: string) => ({
  contact_id,
  name,
  role: '',
  address: `${name.toLowerCase()}@x.example`,
})
const draft = (contact: number | null, more: object = {}) => ({
  to: [person(3, 'Ada'), person(5, 'Bo')],
  chosen: contact ?? 3,
  ...{ sender: 'Ilse <sales@q.example>', language: 'en', subject: 'Quote Q-7', missing: [] },
  body: `Dear ${contact === 5 ? 'Bo' : 'Ada'},`,
  ...{ whose: 'shipped', own_address: 'ilse@q.example', follow_up: 'Ask about quote Q-7' },
  papers: [
    { key: 'pdf', name: 'Q-7.pdf', usual: true },
    { key: 'ubl', name: 'Q-7.xml', usual: false },
  ],
  follow_up_on: '2026-12-05',
  ...more,
})
let sent: Shapes['MailIn'][]
let asked: string[]
function house(more: object = {}): void {
  asked = serve(async (path, request) => {
    if (path.startsWith('/api/mail-draft')) {
      const contact = new URLSearchParams(path.split('?')[1]).get('contact')
      return draft(contact ? Number(contact) : null, more)
    }
    sent.push((await request.json()) as Shapes['MailIn'])
    return { id: 1 }
  })
}
const open = () =>
  show(
    MailPanel,
    { kind: 'quote', record: 9, title: 'Send' },
    { stubs: { ChoiceField: true, DayField: true } },
  ).wrapper
beforeEach(() => {
  sent = []
  localStorage.clear()
  me.value = { id: 4, colleagues: [] } as unknown as Shapes['Me']
})
afterEach(() => {
  document.body.innerHTML = ''
})

it('sends what is seen, with the usual paper and the day to ask', async () => {
  house()
  const panel = open()
  await shown()
  await panel.get('textarea').setValue('Dear Ada,\nlook.')
  await panel.get('form').trigger('submit')
  await shown()
  expect(sent).toHaveLength(1)
  expect(sent[0]).toMatchObject({
    ...{ kind: 'quote', record: 9, contact_id: 3, subject: 'Quote Q-7' },
    body: 'Dear Ada,\nlook.',
    to: [{ name: 'Ada', address: 'ada@x.example' }],
    papers: ['pdf'],
    follow_up: { text: 'Ask about quote Q-7', due_on: '2026-12-05', owner_id: null },
  })
  // What was sent is not there again the next time.
  expect(localStorage.length).toBe(0)
})

it('is not sent with a field that has no value, nor to what is no address', async () => {
  house({ body: 'Dear ⟨contact⟩,' })
  const panel = open()
  await shown()
  expect(panel.text()).toContain('the person’s name')
  await panel.get('form').trigger('submit')
  await shown()
  expect(sent).toEqual([])
  expect(panel.get('[role=alert]').text()).toContain('Still without a value')
  await panel.get('textarea').setValue('Dear all,')
  await panel.get('input[name=copies]').setValue('ada@x.example, nobody')
  await panel.get('form').trigger('submit')
  await shown()
  expect(sent).toEqual([])
  expect(panel.get('[role=alert]').text()).toContain('“nobody” is no mail address')
})

it('an Enter on the way sends nothing; Ctrl Enter does', async () => {
  house()
  const panel = open()
  await shown()
  const subject = panel.get('input[name=subject]')
  const enter = new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true })
  subject.element.dispatchEvent(enter)
  expect(enter.defaultPrevented).toBe(true)
  await subject.trigger('keydown', { key: 'Enter', ctrlKey: true })
  await shown()
  expect(sent).toHaveLength(1)
})

it('another person is greeted by name as long as nobody wrote otherwise', async () => {
  house()
  const panel = open()
  await shown()
  panel.getComponent({ name: 'ChoiceField' }).vm.$emit('update:modelValue', 5)
  await shown()
  expect(panel.get('textarea').element.value).toBe('Dear Bo,')
  await panel.get('textarea').setValue('Hello,')
  panel.getComponent({ name: 'ChoiceField' }).vm.$emit('update:modelValue', 3)
  await shown()
  expect(panel.get('textarea').element.value).toBe('Hello,')
  expect(asked.filter((path) => path.includes('contact=5'))).toHaveLength(1)
  // Closed and opened again, the words are still there.
  panel.unmount()
  const again = open()
  await shown()
  expect(again.get('textarea').element.value).toBe('Hello,')
})

it('does not ask for another follow-up where somebody asks already', async () => {
  house({ planned_on: '2026-12-04' })
  const panel = open()
  await shown()
  expect(panel.text()).toContain('Somebody asks about it on 4 Dec already.')
  await panel.get('form').trigger('submit')
  await shown()
  expect(sent[0]?.follow_up).toBeNull()
})
it('of a reminder asks for its words, and says that it was sent', async () => {
  house()
  const props = { kind: 'quote', record: 9, title: 'Remind', reminds: true }
  const { wrapper } = show(MailPanel, props, { stubs: { ChoiceField: true, DayField: true } })
  await shown()
  expect(asked.some((path) => path.includes('words=reminder'))).toBe(true)
  await wrapper.get('form').trigger('submit')
  await shown()
  expect(Object.keys(wrapper.emitted())).toEqual(expect.arrayContaining(['sent', 'close']))
})
