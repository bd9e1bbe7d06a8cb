/** A file is tried first; what it would bring is looked at, and then it is taken in. */
import { onScopeDispose, ref, shallowRef, type Ref, type ShallowRef } from 'vue'
import { work } from '@/api/streams'
import { useAct } from './useAct'

export interface Import<Report> {
  file: ShallowRef<File | null>
  report: ShallowRef<Report | null>
  /** Whether the report is of what was taken in, not of a trial. */
  kept: Ref<boolean>
  /** How many were looked at. */
  done: Ref<number>
  busy: Ref<boolean>
  attempt: (file: File) => Promise<void>
  /** Take it in; whether that went. */
  keep: () => Promise<boolean>
  letGo: () => void
}

/** @param path where the file goes, by whether it is only tried */
export function useImport<Report>(path: (keep: boolean) => string): Import<Report> {
  const file = shallowRef<File | null>(null)
  const report = shallowRef<Report | null>(null)
  const kept = ref(false)
  const done = ref(0)
  const { busy, run } = useAct()
  const ends = new AbortController()
  onScopeDispose(() => ends.abort())

  async function send(keeping: boolean): Promise<boolean> {
    const sent = file.value
    if (!sent) return false
    done.value = 0
    kept.value = false
    const found = await run(() =>
      work<Report>(path(keeping), sent, (n) => (done.value = n), ends.signal),
    )
    if (found === undefined) return false
    report.value = found
    kept.value = keeping
    return true
  }
  async function attempt(chosen: File): Promise<void> {
    file.value = chosen
    report.value = null
    await send(false)
  }
  function letGo(): void {
    file.value = null
    report.value = null
  }
  return { file, report, kept, done, busy, attempt, keep: () => send(true), letGo }
}
