/** Before each test: an empty browser, and a server that must be spoken for. */
import { afterEach, beforeEach, vi } from 'vitest'

beforeEach(() => {
  localStorage.clear()
  sessionStorage.clear()
  vi.stubGlobal('fetch', () => Promise.reject(new Error('no server in this test')))
})
afterEach(() => {
  vi.useRealTimers()
  document.body.innerHTML = ''
})
