/**
 * Before each test: an empty browser, and a server that must be spoken for. After it: nothing that
 * Vue warned of, as of two rows with one key.
 */
import { disableAutoUnmount, enableAutoUnmount } from '@vue/test-utils'
import { afterEach, beforeEach, expect, vi, type MockInstance } from 'vitest'

// The files share one browser (vite.config.ts): no page of a test outlives it.
disableAutoUnmount()
enableAutoUnmount(afterEach)

let warned: MockInstance<typeof console.warn>

beforeEach(() => {
  warned = vi.spyOn(console, 'warn')
  localStorage.clear()
  sessionStorage.clear()
  vi.stubGlobal('fetch', () => Promise.reject(new Error('no server in this test')))
})
afterEach(() => {
  vi.useRealTimers()
  document.body.innerHTML = ''
  expect(warned.mock.calls.map((call) => String(call[0]))).toEqual([])
})
