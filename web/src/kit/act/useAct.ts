/** An act of a person: once at a time, and what went wrong is told with a way to try again. */
import { ref, type Ref } from 'vue'
import { asFault, type Fault } from '@/api/fault'
import { complain, settle } from './notices'

export interface Act {
  busy: Ref<boolean>
  /** Run it, unless one is under way; undefined where it was refused, or was not run. */
  run: <T>(what: () => Promise<T>) => Promise<T | undefined>
}

/**
 * @param refused what else follows from a refusal; true where that tells the person enough
 */
export function useAct(refused: (fault: Fault) => boolean | void = () => undefined): Act {
  const busy = ref(false)
  async function run<T>(what: () => Promise<T>): Promise<T | undefined> {
    if (busy.value) return undefined
    busy.value = true
    settle()
    try {
      return await what()
    } catch (error) {
      const fault = asFault(error)
      if (refused(fault) !== true) complain(fault, fault.passing ? () => void run(what) : undefined)
      return undefined
    } finally {
      busy.value = false
    }
  }
  return { busy, run }
}
