/** Who is here is the first question; then what follows from somebody signing in or out. */
import type { QueryClient } from '@tanstack/vue-query'
import { ref, shallowRef, watch } from 'vue'
import type { Router } from 'vue-router'
import { whenSignedOut } from '@/api/client'
import { asFault, type Fault } from '@/api/fault'
import { loadSession, me } from '@/api/session'
import { useZone } from '@/kit/format/format'
import { useFormat } from '@/kit/format/person'

const PAUSE_MS = 3000
/** Why it is not known yet who is here; null while the question is under way. */
export const startFault = shallowRef<Fault | null>(null)
export const started = ref(false)
let hurry: () => void = () => undefined
let asked: Promise<void> | undefined

/** Resolves once it is known who is here; asks until the server answers. */
export function whenStarted(): Promise<void> {
  asked ??= start()
  return asked
}
/** Ask now instead of in a moment. */
export function startAgain(): void {
  hurry()
}
async function start(): Promise<void> {
  while (!started.value) {
    try {
      await loadSession()
      started.value = true
    } catch (error) {
      startFault.value = asFault(error)
      await new Promise<void>((resolve) => {
        hurry = resolve
        setTimeout(resolve, PAUSE_MS)
      })
    }
  }
  startFault.value = null
}

export function followSession(client: QueryClient, router: Router): void {
  watch(() => me.value?.time_zone, useZone, { immediate: true, flush: 'sync' })
  watch(() => me.value?.format, useFormat, { immediate: true, flush: 'sync' })
  // What one person saw is nobody else's.
  watch(
    () => me.value?.id,
    () => client.clear(),
    { flush: 'sync' },
  )
  whenSignedOut(() => {
    me.value = null
    const { name, fullPath } = router.currentRoute.value
    if (name !== 'sign-in') void router.push({ name: 'sign-in', query: { to: fullPath } })
  })
}
