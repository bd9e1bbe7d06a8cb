import { describe, expect, it } from 'vitest'
import { ref } from 'vue'
import { idIn, quantityIn } from './priceQuestion'

describe('a question for a price in an address', () => {
  it('has a record by its number, or none', () => {
    const text = ref('18')
    const id = idIn(text)
    expect(id.value).toBe(18)
    id.value = null
    expect(text.value).toBe('')
    id.value = 4
    expect(text.value).toBe('4')
    text.value = 'Hazelmoor'
    expect(id.value).toBeNull()
  })
  it.each([
    ['12', '12'],
    ['1,5', '1.5'],
    ['a dozen', '1'],
    ['', '1'],
  ])('asks for “%s” as %s', (text, wanted) => expect(quantityIn(ref(text)).value).toBe(wanted))
})
