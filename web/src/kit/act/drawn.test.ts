import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { drawn } from './drawn'

beforeEach(() => {
  vi.useFakeTimers()
})
afterEach(() => {
  vi.unstubAllGlobals()
  vi.useRealTimers()
})

it('what follows a drawing waits for the frame, and for no frame in a tab that nobody looks at', async () => {
  const frames: FrameRequestCallback[] = []
  vi.stubGlobal('requestAnimationFrame', (then: FrameRequestCallback) => frames.push(then))
  const told: string[] = []
  void drawn().then(() => told.push('seen'))
  await vi.advanceTimersByTimeAsync(20)
  expect(told).toEqual([])
  frames.shift()!(0)
  await vi.advanceTimersByTimeAsync(1)
  expect(told).toEqual(['seen'])

  void drawn().then(() => told.push('hidden'))
  await vi.advanceTimersByTimeAsync(100)
  expect(told).toEqual(['seen', 'hidden'])
})
