import { beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, ref, type EffectScope } from 'vue'
import { Fault } from '@/api/fault'
import { useLookup } from './useLookup'

const waiting = new Map<string, { give: (hits: string[]) => void; fail: (error: Error) => void }>()
let words = ref('')
let chosen: string[] = []
let scope: EffectScope
let look: ReturnType<typeof useLookup<string>>

beforeEach(() => {
  vi.useFakeTimers()
  waiting.clear()
  words = ref('')
  chosen = []
  scope = effectScope()
  look = scope.run(() =>
    useLookup<string>({
      words,
      least: 2,
      ask: (asked) => new Promise((give, fail) => waiting.set(asked, { give, fail })),
      chosen: (hit) => chosen.push(hit),
    }),
  )!
})
async function type(text: string): Promise<void> {
  words.value = text
  await nextTick()
  await vi.advanceTimersByTimeAsync(200)
}
async function answer(text: string, hits: string[]): Promise<void> {
  waiting.get(text)?.give(hits)
  await vi.advanceTimersByTimeAsync(0)
}

describe('a lookup by letters', () => {
  it('takes no hit of earlier letters: Enter waits for the answer to those that stand there', async () => {
    await type('ro')
    await answer('ro', ['Roses'])
    words.value = 'rope'
    await nextTick()
    look.choose()
    expect(chosen).toEqual([])
    expect(look.hits.value).toEqual([])
    await vi.advanceTimersByTimeAsync(200)
    await answer('rope', ['Rope, 8 mm'])
    expect(chosen).toEqual(['Rope, 8 mm'])
  })
  it('shows no late answer to earlier letters', async () => {
    await type('ro')
    await type('rope')
    await answer('rope', ['Rope, 8 mm'])
    await answer('ro', ['Roses'])
    expect(look.hits.value).toEqual(['Rope, 8 mm'])
  })
  it('lets a waiting Enter go when the letters change', async () => {
    await type('ro')
    look.choose()
    await type('rope')
    await answer('ro', ['Roses'])
    await answer('rope', ['Rope, 8 mm'])
    expect(chosen).toEqual([])
  })
  it('tells an error as an error, not as nothing found', async () => {
    await type('ro')
    waiting.get('ro')?.fail(new Fault(503, 'busy', 'The database is away.'))
    await vi.advanceTimersByTimeAsync(0)
    expect(look.error.value?.code).toBe('busy')
    expect(look.settled.value).toBe(false)
  })
  it('asks nobody once its page is gone', async () => {
    words.value = 'rope'
    await nextTick()
    scope.stop()
    await vi.advanceTimersByTimeAsync(500)
    expect(waiting.size).toBe(0)
  })
})
