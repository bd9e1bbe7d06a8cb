import { mount } from '@vue/test-utils'
import { ElFormItem, ElInput, ElSelect, ElOption } from 'element-plus'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, h, nextTick } from 'vue'
import { readQuantity } from '@/parts/line/numbers'
import ChoiceField from './ChoiceField.vue'
import DayField from './DayField.vue'
import PickField, { type Pick } from './PickField.vue'
import TextField from './TextField.vue'
import { useFields } from './unread'

/** A form item tells its error a tenth of a second later. */
const settled = async () => {
  await nextTick()
  await new Promise((go) => setTimeout(go, 130))
}
const field = () => document.querySelector<HTMLInputElement>('input')!
async function type(text: string): Promise<void> {
  field().focus()
  field().value = text
  field().dispatchEvent(new Event('input', { bubbles: true }))
  await settled()
}
async function leave(): Promise<void> {
  field().dispatchEvent(new Event('change', { bubbles: true }))
  field().blur()
  await settled()
}
const reason = () => document.querySelector('.el-form-item__error')?.textContent?.trim() ?? ''
afterEach(() => vi.useRealTimers())

describe('a text field', () => {
  const open = (props = {}) =>
    mount(TextField, {
      props: { text: '10', label: 'Quantity', read: readQuantity, ...props },
      attachTo: document.body,
    })
  it('is taken in when it is left, read, and shown as it then stands', async () => {
    const wrapper = open()
    await type('1 200')
    expect(wrapper.emitted('change')).toBeUndefined()
    await leave()
    expect(wrapper.emitted('change')).toEqual([['1200']])
    await wrapper.setProps({ text: '1\u00a0200' })
    expect(field().value).toBe('1\u00a0200')
  })
  it('keeps what cannot be read, with the reason, and changes nothing', async () => {
    const wrapper = open()
    await type('many')
    await leave()
    expect([field().value, wrapper.emitted('change')]).toEqual(['many', undefined])
    expect(reason()).toMatch(/A quantity is a number/)
    await type('12')
    await leave()
    expect([reason(), wrapper.emitted('change')]).toEqual(['', [['12']]])
  })
  it('is not wiped by a fresh value from elsewhere while somebody types', async () => {
    const wrapper = open()
    await type('12')
    await wrapper.setProps({ text: '11' })
    expect(field().value).toBe('12')
  })
  it('says what the server refused at its place', async () => {
    open({ error: 'Too long.' })
    await settled()
    expect(reason()).toBe('Too long.')
  })
})

describe('a day field', () => {
  beforeEach(() => {
    vi.useFakeTimers({ toFake: ['Date'] })
    vi.setSystemTime(new Date('2026-11-26T10:00:00Z'))
  })
  const open = (props = {}) =>
    mount(DayField, {
      props: { modelValue: '2026-12-26', label: 'Valid until', from: '2026-11-26', ...props },
      attachTo: document.body,
    })
  it('shows the day in the person’s format and reads days as people type them', async () => {
    const wrapper = open()
    await settled()
    expect(field().value).toBe('26 Dec 2026')
    await type('+7')
    await leave()
    expect(wrapper.emitted('update:modelValue')?.at(-1)).toEqual(['2026-12-03'])
    await type('12.3.')
    await leave()
    expect(wrapper.emitted('update:modelValue')?.at(-1)).toEqual(['2027-03-12'])
  })
  it('asks nobody for a day that is being typed letter by letter', async () => {
    const wrapper = open()
    for (const text of ['2', '20', '200', '2002', '2002-']) await type(text)
    expect(wrapper.emitted('update:modelValue')).toBeUndefined()
  })
  it('tells what is no day, and what lies before the first one', async () => {
    const wrapper = open()
    await type('31.2.2027')
    await leave()
    expect(reason()).toMatch(/“31.2.2027” is no day/)
    await type('25.11.2026')
    await leave()
    expect(reason()).toBe('Not before 26 Nov')
    expect(wrapper.emitted('update:modelValue')).toBeUndefined()
  })
})

describe('an act on the whole form', () => {
  let settle: ReturnType<typeof useFields>
  let day: string | null
  beforeEach(() => {
    vi.useFakeTimers({ toFake: ['Date'] })
    vi.setSystemTime(new Date('2026-11-26T10:00:00Z'))
    day = '2026-12-26'
    const chosen = (to: string | null) => (day = to)
    const props = { modelValue: day, label: 'Valid until', from: '2026-11-26' }
    mount(
      defineComponent(() => {
        settle = useFields()
        return () => h(DayField, { ...props, modelValue: day, 'onUpdate:modelValue': chosen })
      }),
      { attachTo: document.body },
    )
  })
  it('takes in the day that is being typed', async () => {
    await type('+7')
    expect([settle(), day]).toEqual([null, '2026-12-03'])
  })
  it.each(['soon', '25.11.2026'])(
    'is held back by “%s”, which is no day that can be chosen',
    async (text) => {
      await type(text)
      expect(settle()).toMatchObject({ label: 'Valid until', text })
      await settled()
      expect([day, field().value, settle()]).toEqual(['2026-12-26', '26 Dec 2026', null])
      expect(reason()).not.toBe('')
    },
  )
})

describe('a record chosen by a few letters', () => {
  const name: Pick = { id: 57, label: 'Stonebeck Farm' }
  const open = (props = {}) =>
    mount(PickField, {
      props: {
        modelValue: 57,
        label: 'Customer',
        placeholder: 'Type',
        nothing: 'None',
        find: () => Promise.resolve([] as Pick[]),
        nameOf: () => Promise.resolve(name),
        ...props,
      },
      attachTo: document.body,
      global: { components: { ElSelect, ElOption, ElFormItem, ElInput } },
    })
  it('shows the name of one that is preset, not its number', async () => {
    open()
    await settled()
    expect(document.body.textContent).toContain('Stonebeck Farm')
    expect(document.body.textContent).not.toContain('57')
  })
  it('offers nothing that does not hold the letters, before the answer for them is there', async () => {
    const first = [{ id: 1, label: 'Birkmoor Berries' }, name]
    const never = new Promise<Pick[]>(() => undefined)
    const find = (words: string) => (words === 'r' ? Promise.resolve(first) : never)
    open({ modelValue: null, find })
    await type('r')
    await new Promise((go) => setTimeout(go, 400))
    await settled()
    const offered = () =>
      [...document.querySelectorAll('.el-select-dropdown__item')].map((each) =>
        each.textContent.trim(),
      )
    expect(offered()).toEqual(['Birkmoor Berries', 'Stonebeck Farm'])
    await type('sto')
    await settled()
    expect(offered()).toEqual(['Stonebeck Farm'])
  })
  it('tells an error as an error, not as nothing found', async () => {
    open({ modelValue: null, find: () => Promise.reject(new Error('The database is away.')) })
    await type('sto')
    await new Promise((go) => setTimeout(go, 400))
    await settled()
    expect(reason()).toBe('The database is away.')
  })
})

describe('a field with choices', () => {
  const choices = [
    { value: '', label: 'All stages' },
    { value: 'quoted', label: 'Quoted' },
  ]
  it('says what is chosen also where that is “all of them”', async () => {
    const shown = mount(ChoiceField, { props: { modelValue: '', choices, label: 'Stage' } })
    await settled()
    expect(shown.text()).toContain('All stages')
  })
  it('tells a screen reader what is chosen, and what is chosen next', async () => {
    const shown = mount(ChoiceField, { props: { modelValue: '', choices, label: 'Stage' } })
    await settled()
    const told = () => shown.get('input').attributes('aria-description')
    expect(told()).toBe('All stages')
    await shown.setProps({ modelValue: 'quoted' })
    expect(told()).toBe('Quoted')
  })
  it('chooses nothing while arrows point, and nothing by itself', async () => {
    const shown = mount(ChoiceField, {
      props: { modelValue: 'quoted', choices, label: 'Stage' },
      attachTo: document.body,
    })
    const input = shown.get('input')
    await input.trigger('keydown', { key: 'ArrowDown', code: 'ArrowDown' })
    await input.trigger('keydown', { key: 'ArrowDown', code: 'ArrowDown' })
    expect(shown.emitted('update:modelValue')).toBeUndefined()
    shown.unmount()
  })
})
