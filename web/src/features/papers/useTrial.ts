/** A trial of a paper as it is typed: the newest one asked for is the one that is shown. */
import { onScopeDispose, shallowRef, watch, type Ref } from 'vue'
import { api, take } from '@/api/client'
import { asFault, type Fault } from '@/api/fault'
import type { Template } from './queries'

const PAUSE_MS = 350

export function useTrial(template: Ref<Template | null>, language: Ref<string>) {
  const pages = shallowRef<string[]>([])
  const fault = shallowRef<Fault | null>(null)
  const busy = shallowRef(false)
  let timer: ReturnType<typeof setTimeout> | undefined
  let asking: AbortController | undefined

  async function look(): Promise<void> {
    const tried = template.value
    if (!tried) return
    asking?.abort()
    const mine = (asking = new AbortController())
    busy.value = true
    try {
      const body = { ...tried, language: language.value as 'en' }
      const found = await take(api.POST('/api/papers/trial', { body, signal: mine.signal }))
      if (mine.signal.aborted) return
      pages.value = found.pages
      fault.value = null
    } catch (problem) {
      if (!mine.signal.aborted) fault.value = asFault(problem)
    } finally {
      if (asking === mine) busy.value = false
    }
  }
  watch(
    [template, language],
    (_, before) => {
      clearTimeout(timer)
      // The first look is at once, and also where the template came from what was kept.
      const pause = before.length && pages.value.length ? PAUSE_MS : 0
      timer = setTimeout(() => void look(), pause)
    },
    { deep: true, immediate: true },
  )
  onScopeDispose(() => {
    clearTimeout(timer)
    asking?.abort()
  })
  return { pages, fault, busy }
}
