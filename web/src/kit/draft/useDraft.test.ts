import { beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, type EffectScope } from 'vue'
import { Fault } from '@/api/fault'
import { keptDraft } from './keptDraft'
import type { DraftStore } from './types'
import { useDraft } from './useDraft'

let there: { state: string; version: number; open: boolean }
let gate: (() => void) | null
let slow = false
let down = false
const heard: string[] = []

/** A page that shows the document: its scope ends with it. */
function page(name: string): { scope: EffectScope; store: DraftStore<string> } {
  const scope = effectScope(true)
  const store = scope.run(() =>
    useDraft<string, { version: number }>(
      '7:quote-1',
      { ...there },
      {
        kept: keptDraft(7, 'quote-1', 1),
        read: () => Promise.resolve({ ...there }),
        save: async (state, version) => {
          if (slow) await new Promise<void>((go) => (gate = go))
          if (down) throw new Fault(0, 'offline', '')
          if (version !== there.version && state !== there.state) throw new Fault(409, 'stale', '')
          if (state !== there.state) there = { state, version: there.version + 1, open: true }
          return { version: there.version }
        },
      },
      { saved: () => heard.push(name) },
    ),
  )!
  return { scope, store }
}
const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms)
beforeEach(() => {
  vi.useFakeTimers()
  there = { state: 'A', version: 1, open: true }
  gate = null
  slow = down = false
  heard.length = 0
})

describe('one store per open document', () => {
  it('saves what was typed when its page goes', async () => {
    const first = page('first')
    first.store.change('AB')
    first.scope.stop()
    await pass(0)
    expect([there.state, localStorage.length]).toEqual(['AB', 0])
  })
  it('is the same for a page that comes back before the last save is through', async () => {
    slow = true
    const first = page('first')
    first.store.change('AB')
    first.scope.stop()
    await pass(0)
    const second = page('second')
    expect(second.store).toBe(first.store)
    expect(second.store.state.value).toBe('AB')
    second.store.change('ABC')
    slow = false
    gate?.()
    await pass(1000)
    expect([there.state, second.store.saving.value, heard]).toEqual(['ABC', 'saved', ['second', 'second']]) // prettier-ignore
    second.scope.stop()
    await pass(0)
  })
  it('that was left with the line down tries no more, and its draft is taken up again', async () => {
    down = true
    const first = page('first')
    first.store.change('AB')
    first.scope.stop()
    await pass(120_000)
    expect(there.state).toBe('A')
    down = false
    const second = page('second')
    expect(second.store).not.toBe(first.store)
    expect(second.store.state.value).toBe('AB')
    await pass(1000)
    expect([there.state, second.store.saving.value]).toEqual(['AB', 'saved'])
    second.scope.stop()
    await pass(0)
  })
  it('keeps what is typed when the window goes, and tries at once when the line is back', async () => {
    const { scope, store } = page('first')
    store.change('AB')
    window.dispatchEvent(new Event('pagehide'))
    expect(localStorage.length).toBe(1)
    down = true
    await pass(400)
    expect(store.saving.value).toBe('offline')
    down = false
    window.dispatchEvent(new Event('online'))
    await pass(0)
    expect([there.state, store.saving.value]).toEqual(['AB', 'saved'])
    scope.stop()
    await pass(0)
  })
})
