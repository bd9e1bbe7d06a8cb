/** Whether the server serves a newer build than the one that runs here. */
import { ref } from 'vue'
import { whenBuild } from '@/api/client'

/** The build of this page, as the server wrote it into the page; empty while developing. */
const mine = document.querySelector<HTMLMetaElement>('meta[name="build"]')?.content ?? ''
const known = /^[0-9a-f]{12}$/.test(mine)

export const newerBuild = ref(false)
/** A part of the application could not be loaded. */
export const partMissing = ref(false)

export function watchBuild(): void {
  // Once noticed it stays: an answer that the older one was still giving does not take it back.
  whenBuild((build) => (newerBuild.value ||= known && build !== mine))
  window.addEventListener('vite:preloadError', (event) => {
    event.preventDefault()
    partMissing.value = true
  })
}
