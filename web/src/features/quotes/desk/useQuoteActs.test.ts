import { beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import type { Shapes } from '@/api/client'
import { revisionKey } from '@/features/quotes/queries'
import { serve, show, shown } from '@/test/server'
import type { Desk } from './useDesk'
import { useQuoteActs } from './useQuoteActs'

type Quote = Shapes['QuoteOut']
const OLD = { id: 7, quote_id: 3, letter: 'A', state: 'issued', newest: true } as unknown as Quote
const NEW = { ...OLD, id: 8, letter: 'B', state: 'draft' } as Quote

let acts: ReturnType<typeof useQuoteActs>
let page: ReturnType<typeof show>
let saved: boolean
let asked: string[]
beforeEach(() => {
  saved = true
  asked = serve((path) => (path.endsWith('/revise') ? NEW : { ...OLD, state: 'declined' }))
  const desk = { seen: () => ({ mark: 'm', payable: '1' }), version: () => 2 } as unknown as Desk
  const Acts = defineComponent(() => {
    const ready = () => Promise.resolve(saved)
    const nothing = () => undefined
    acts = useQuoteActs(ref(OLD), desk, { ready, done: nothing, again: nothing, moved: nothing })
    return () => h('p')
  })
  page = show(Acts)
  for (const key of [revisionKey(7), revisionKey(8), ['order', 7], ['customer', 7], ['quotes']]) {
    page.client.setQueryData(key, { known: key })
  }
})
const stale = (...key: unknown[]) => page.client.getQueryState(key)?.isInvalidated

describe('an act on a quote', () => {
  it('that makes a new revision makes the old one stale: it is not the newest any more', async () => {
    const push = vi.spyOn(page.router, 'push')
    await acts.revise()
    expect(stale('revision', 7)).toBe(true)
    expect(push).toHaveBeenCalledWith('/quotes/8')
  })
  it('makes all else stale, an order and a customer of the same number too, but not its answer', async () => {
    await acts.decline('Too dear')
    await shown()
    expect([stale('order', 7), stale('customer', 7), stale('quotes')]).toEqual([true, true, true])
    expect(stale('revision', 8)).toBe(true)
    expect(page.client.getQueryData(revisionKey(7))).toMatchObject({ state: 'declined' })
    expect(stale('revision', 7)).toBe(false)
  })
  it('on a draft waits until the draft is saved, and is not sent where it is not', async () => {
    saved = false
    await acts.issue('2026-12-03')
    await acts.askSignOff('They asked')
    await acts.keep('Posts')
    await acts.copy(3)
    expect(asked).toEqual([])
  })
})
