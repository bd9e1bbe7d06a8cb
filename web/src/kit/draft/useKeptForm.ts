/**
 * A form for something that is not there yet: what is typed stays in the browser, of this person,
 * until it is made or let go of.
 */
import { ref, watch, type Ref } from 'vue'
import { keptDraft } from './keptDraft'

/**
 * @param shape count up when the form changes its shape
 * @param empty how it starts
 */
export function useKeptForm<F extends object>(
  person: number,
  name: string,
  shape: number,
  empty: () => F,
): { form: Ref<F>; clear: () => void; restored: boolean } {
  const kept = keptDraft<F>(person, name, shape)
  const before = kept.get()
  const form = ref(before ? { ...empty(), ...before.state } : empty()) as Ref<F>
  watch(
    form,
    (now) => {
      if (JSON.stringify(now) === JSON.stringify(empty())) kept.drop()
      else kept.put({ version: 0, state: now })
    },
    { deep: true },
  )
  function clear(): void {
    form.value = empty()
    kept.drop()
  }
  return { form, clear, restored: before !== null }
}
