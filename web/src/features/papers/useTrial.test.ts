import { beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, ref } from 'vue'
import type { Template } from './queries'
import { useTrial } from './useTrial'

/** What was asked, and how each is answered. */
let asked: { size: string; answer: (page: string) => void }[]
const paper = (size: string) => ({ size }) as unknown as Template

beforeEach(() => {
  vi.useFakeTimers()
  asked = []
  vi.stubGlobal('fetch', async (request: Request) => {
    const { size } = (await request.json()) as { size: string }
    return new Promise<Response>((go) => {
      const answer = (page: string) => go(new Response(JSON.stringify({ pages: [page] })))
      asked.push({ size, answer })
    })
  })
})
const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms)
function trial(first: Template) {
  const template = ref<Template | null>(first)
  const scope = effectScope()
  return { template, scope, ...scope.run(() => useTrial(template, ref('en')))! }
}

describe('the trial of a paper', () => {
  it('is there at once, also where the paper came from what was kept', async () => {
    const { pages } = trial(paper('9'))
    await pass(5)
    asked[0]?.answer('nine')
    await pass(5)
    expect(pages.value).toEqual(['nine'])
  })
  it('of an older form never wins over the newer one', async () => {
    const { template, pages } = trial(paper('9'))
    await pass(5)
    template.value = paper('10')
    await nextTick()
    await pass(400)
    expect(asked.map((each) => each.size)).toEqual(['9', '10'])
    asked[1]?.answer('ten')
    await pass(5)
    asked[0]?.answer('nine')
    await pass(5)
    expect(pages.value).toEqual(['ten'])
  })
  it('is not asked for any more once the page is left', async () => {
    const { template, scope } = trial(paper('9'))
    await pass(5)
    template.value = paper('10')
    await nextTick()
    scope.stop()
    await pass(1000)
    expect(asked.map((each) => each.size)).toEqual(['9'])
  })
})
