import { QueryClient } from '@tanstack/vue-query'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick } from 'vue'
import { staleByPrice, type Kind, type PriceRecord } from './queries'
import { useRecordForm } from './useRecordForm'

let answers: ((moved: number) => void)[]
beforeEach(() => {
  answers = []
  vi.stubGlobal(
    'fetch',
    () =>
      new Promise<Response>((go) => {
        answers.push((moved) => go(new Response(JSON.stringify({ quotes: moved }))))
      }),
  )
})
const settle = () => new Promise((go) => setTimeout(go, 5))
const KIND = {
  name: 'rules',
  fields: [{ name: 'tiers', kind: 'tiers', needed: true, choices: [] }],
} as unknown as Kind
const record = (id: string) =>
  ({ id, version: 1, values: { tiers: 'from 1: 4 %' } }) as unknown as PriceRecord
const open = (id: string) => effectScope(true).run(() => useRecordForm(KIND, record(id), 'EUR'))!

describe('what a change of prices would move', () => {
  it('is forgotten once another value stands there', async () => {
    const form = open('1')
    void form.look()
    await settle()
    answers[0]?.(2)
    await settle()
    expect(form.ahead.value).toEqual({ quotes: 2 })
    form.form.value.tiers = 'from 1: 5 %'
    await nextTick()
    expect(form.ahead.value).toBeNull()
  })
  it('is not shown where the answer comes after another value was typed', async () => {
    const form = open('1')
    void form.look()
    await settle()
    form.form.value.tiers = 'from 1: 5 %'
    await nextTick()
    answers[0]?.(2)
    await settle()
    expect(form.ahead.value).toBeNull()
  })
})

describe('a saved price', () => {
  it('makes stale all that shows prices, and nothing else', async () => {
    const client = new QueryClient()
    const keys = ['price-records', 'price-check', 'items', 'again', 'forecast']
    for (const key of keys) client.setQueryData([key, 1], {})
    await staleByPrice(client)
    const stale = keys.filter((key) => client.getQueryState([key, 1])?.isInvalidated)
    expect(stale).toEqual(['price-records', 'price-check', 'items', 'again'])
  })
})
