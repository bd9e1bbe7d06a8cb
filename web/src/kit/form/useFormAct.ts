/** A form that is sent once at a time; what is refused is told at its field, else below. */
import { computed, ref, shallowRef } from 'vue'
import { asFault, type Fault } from '@/api/fault'

/** @param fields the paths that the form has a field for */
export function useFormAct(fields: readonly string[]) {
  const busy = ref(false)
  const fault = shallowRef<Fault | null>(null)

  async function run<T>(what: () => Promise<T>): Promise<T | undefined> {
    if (busy.value) return undefined
    busy.value = true
    fault.value = null
    try {
      return await what()
    } catch (error) {
      fault.value = asFault(error)
      return undefined
    } finally {
      busy.value = false
    }
  }
  /** What is said at a field, by the path that the server names. */
  function faultAt(...paths: string[]): string {
    return fault.value && paths.includes(fault.value.path) ? fault.value.message : ''
  }
  const elsewhere = computed(() =>
    fault.value && !fields.includes(fault.value.path) ? fault.value.message : '',
  )
  const clear = () => {
    fault.value = null
  }
  return { busy, fault, faultAt, elsewhere, run, clear }
}
