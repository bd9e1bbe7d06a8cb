/** Steps back and forth. Changes of one step, as the keys of one word, are taken back together. */
import { computed, shallowRef, type ShallowRef } from 'vue'

const MOST_STEPS = 200

export function createHistory<S>(state: ShallowRef<S>) {
  const past = shallowRef<S[]>([])
  const future = shallowRef<S[]>([])
  let lastStep = ''

  /** A change follows; `step` names what it is part of, nothing a step of its own. */
  function note(step: string): void {
    if (!step || step !== lastStep) before(state.value)
    lastStep = step
    future.value = []
  }
  /** Going back leads here. */
  function before(earlier: S): void {
    past.value = [...past.value, earlier].slice(-MOST_STEPS)
  }
  function move(from: ShallowRef<S[]>, to: ShallowRef<S[]>): S | undefined {
    const next = from.value.at(-1)
    if (next === undefined) return undefined
    from.value = from.value.slice(0, -1)
    to.value = [...to.value, state.value]
    lastStep = ''
    return next
  }
  /** The document was taken over as the server has it; once closed, there is no way back. */
  function landed(open: boolean): void {
    lastStep = ''
    future.value = []
    if (!open) past.value = []
  }
  return {
    note,
    before,
    landed,
    back: () => move(past, future),
    forth: () => move(future, past),
    canBack: computed(() => past.value.length > 0),
    canForth: computed(() => future.value.length > 0),
  }
}
