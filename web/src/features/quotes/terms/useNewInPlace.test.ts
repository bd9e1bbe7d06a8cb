import { beforeEach, describe, expect, it } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import type { DeskFields } from '@/features/quotes/desk/draftShape'
import { show } from '@/test/server'
import { NEW, useNewInPlace } from './useNewInPlace'

const quote = ref({
  customer_id: 3,
  contacts: [{ id: 1, name: 'Maren Oake', role: 'owner' }],
  addresses: [{ id: 5, label: 'North yard, Fellgate' }],
})
const place = { label: 'South field', street: '2 Beck Lane', town: 'Fellgate', version: 1 }
const PLACE = 8
let made: ReturnType<typeof useNewInPlace>
let told: Partial<DeskFields>[]

beforeEach(() => {
  told = []
  const Page = defineComponent(() => {
    made = useNewInPlace(
      () => quote.value as never,
      (to) => told.push(to),
    )
    return () => h('i')
  })
  show(Page, {})
})
const values = () => made.contacts.value.map((each) => each.value)

describe('somebody new on a quote', () => {
  it('is asked for last in the list, and nothing is changed by asking', () => {
    expect(values()).toEqual([1, NEW])
    made.choosePerson(NEW)
    expect([made.asked.value, told]).toEqual(['person', []])
    made.choosePerson(1)
    expect([made.asked.value, told]).toEqual([null, [{ contact_id: 1 }]])
  })
  it('is chosen once made, and stands there once when the quote comes anew', () => {
    const fresh = { id: 7, name: 'Odo Thwaite', role: 'buyer', email: '', phone: '', version: 1 }
    made.choosePerson(NEW)
    made.met(fresh as never)
    expect([made.asked.value, told, values()]).toEqual([null, [{ contact_id: 7 }], [1, 7, NEW]])
    quote.value = { ...quote.value, contacts: [...quote.value.contacts, fresh] }
    expect(values()).toEqual([1, 7, NEW])
  })
  it.each([
    ['delivery', [{ delivery_address_id: 8 }]],
    ['invoice', []], // goods do not go there
  ])('a new place for %s is kept, and chosen where goods may go', (kind, wanted) => {
    made.choosePlace(NEW)
    made.found({ id: PLACE, kind, ...place } as never)
    expect(told).toEqual(wanted)
    expect(made.addresses.value.map((each) => each.label)).toContain(
      'South field, 2 Beck Lane, Fellgate',
    )
  })
})
