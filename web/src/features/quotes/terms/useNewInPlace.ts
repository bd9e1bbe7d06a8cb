/** Somebody new, or a new place, where one chooses among those who are there: the quote stays open. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, type ComputedRef, type Ref } from 'vue'
import type { Shapes } from '@/api/client'
import type { DeskFields } from '@/features/quotes/desk/draftShape'
import { say } from '@/kit/act/notices'
import type { Choice } from '@/kit/form/ChoiceField.vue'
import { t } from '@/words'

/** Last in the list: who is not there yet. No record has this number. */
export const NEW = -1

type Quote = Pick<Shapes['QuoteOut'], 'contacts' | 'addresses' | 'customer_id'>
type Person = Shapes['ContactOut']
type Place = Shapes['AddressOut']

export function useNewInPlace(quote: () => Quote, change: (to: Partial<DeskFields>) => void) {
  const client = useQueryClient()
  const asked = ref<'person' | 'place' | null>(null)
  /** Made since the quote was read. */
  const people = ref<Choice<number>[]>([])
  const places = ref<Choice<number>[]>([])

  const choices = (
    known: () => Choice<number>[],
    made: Ref<Choice<number>[]>,
    fresh: string,
  ): ComputedRef<Choice<number>[]> =>
    computed(() => {
      const there = known()
      const more = made.value.filter((each) => there.every((other) => other.value !== each.value))
      return [...there, ...more, { value: NEW, label: fresh }]
    })
  const person = (c: Person) => ({ value: c.id, label: c.name, detail: c.role })
  const contacts = choices(() => quote().contacts.map(person), people, t('terms.somebodyNew'))
  const addresses = choices(
    () => quote().addresses.map((a) => ({ value: a.id, label: a.label })),
    places,
    t('terms.newPlace'),
  )

  function choosePerson(id: number | null): void {
    asked.value = id === NEW ? 'person' : null
    if (id !== NEW) change({ contact_id: id })
  }
  function choosePlace(id: number | null): void {
    asked.value = id === NEW ? 'place' : null
    if (id !== NEW) change({ delivery_address_id: id })
  }
  /** The customer's own page has not seen them yet. */
  function told(name: string): void {
    asked.value = null
    void client.invalidateQueries({ queryKey: ['customer', quote().customer_id] })
    say(t('terms.added', { name }))
  }
  function met(made: Person): void {
    people.value = [...people.value, person(made)]
    change({ contact_id: made.id })
    told(made.name)
  }
  /** Goods go to a place for deliveries alone; one for invoices is kept with the customer. */
  function found(made: Place): void {
    const label = [made.label, made.street, made.town].filter(Boolean).join(', ')
    places.value = [...places.value, { value: made.id, label }]
    if (made.kind === 'delivery') change({ delivery_address_id: made.id })
    told(label)
  }
  return { asked, contacts, addresses, choosePerson, choosePlace, met, found }
}
