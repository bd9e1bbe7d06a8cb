import { beforeEach, describe, expect, it } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import { useFields } from '@/kit/form/unread'
import type { DeskFields } from '@/features/quotes/desk/draftShape'
import { show, shown } from '@/test/server'
import DocumentTerms from './DocumentTerms.vue'

const QUOTE = { currency: 'EUR', digits: 2, contacts: [], addresses: [], tax_categories: {} }
const charge = (name: string, amount: string) => ({
  ...{ name, amount, percent: null, tax_category: 'standard' },
})
let fields: ReturnType<typeof ref<DeskFields>>
let settle: ReturnType<typeof useFields>
let wrapper: ReturnType<typeof show>['wrapper']
beforeEach(() => {
  fields = ref({
    ...{ valid_until: '2099-12-26', requested_on: '2099-12-30', terms_days: 30 },
    ...{ terms_end_of_month: '', terms_more: {}, delivery_address_id: null, paper: 'short' },
    ...{ discount_amount: '', discount_percent: '3', discount_on: 'net', contact_id: null },
    ...{ message: '', buyer_reference: '' },
    charges: [charge('Freight', '45.00'), charge('Packing', '12.50')],
  } as unknown as DeskFields)
  const Page = defineComponent(() => {
    settle = useFields()
    return () =>
      h(DocumentTerms, {
        ...{ fields: fields.value!, quote: QUOTE as never, rate: null, fault: null },
        onChange: (to) => (fields.value = { ...fields.value!, ...to }),
      })
  })
  wrapper = show(Page, {}, { stubs: { DayField: true, ChoiceField: true } }).wrapper
})
const field = (label: string, n = 0) =>
  wrapper.findAll<HTMLInputElement>(`input[aria-label="${label}"]`)[n]!
async function type(label: string, text: string, n = 0): Promise<void> {
  const input = field(label, n)
  await input.trigger('focusin')
  await input.setValue(text)
  await input.trigger('focusout')
  await new Promise((go) => setTimeout(go, 120))
}
const reasons = () => wrapper.findAll('.el-form-item__error').map((each) => each.text())

describe('terms that cannot be read', () => {
  it.each([
    ['Payment, days', '400', 'terms_days', 30],
    ['Discount', 'some', 'discount_percent', '3'],
  ] as const)(
    '%s: “%s” keeps its text with a reason, and holds every act',
    async (label, text, name, was) => {
      await type(label, text)
      expect([field(label).element.value, fields.value![name]]).toEqual([text, was])
      expect(reasons()).toHaveLength(1)
      expect(settle()).toMatchObject({ label, text })
      settle()!.focus()
      expect(document.activeElement).toBe(field(label).element)
      await type(label, '14')
      expect([reasons(), settle()]).toEqual([[], null])
    },
  )
  it('a charge keeps them at its own row, also when the other one is taken away', async () => {
    await type('Charge', 'Carriage')
    await type('Amount or percent', '1,200', 1)
    expect(settle()).toMatchObject({ text: '1,200' })
    expect(fields.value!.charges.map((each) => [each.name, each.amount])).toEqual([
      ['Carriage', '45.00'],
      ['Packing', '12.50'],
    ])
    await wrapper.get('button[aria-label*="Packing"]').trigger('click')
    await shown()
    expect(settle()).toBeNull()
    expect(field('Amount or percent').element.value).toBe('45.00')
  })
  it('are taken in by an act while the field has the keyboard', async () => {
    await field('Payment, days').trigger('focusin')
    await field('Payment, days').setValue('14')
    expect(fields.value!.terms_days).toBe(30)
    expect(settle()).toBeNull()
    expect(fields.value!.terms_days).toBe(14)
  })
})
