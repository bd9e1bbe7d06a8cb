/** A question for a price as an address holds it: whose, of what, how much. */
import { computed, type Ref, type WritableComputedRef } from 'vue'
import { readQuantity } from './numbers'

/** A record's number behind the text of an address; null for none. */
export function idIn(text: Ref<string>): WritableComputedRef<number | null> {
  return computed({
    get: () => Number(text.value) || null,
    set: (id) => (text.value = id ? String(id) : ''),
  })
}
/** The quantity as it can be asked for; one where it cannot be read. */
export const quantityIn = (text: Ref<string>) =>
  computed(() => {
    const got = readQuantity(text.value)
    return 'value' in got ? got.value : '1'
  })
