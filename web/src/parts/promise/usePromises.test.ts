import { expect, it } from 'vitest'
import { QueryClient } from '@tanstack/vue-query'
import { defineComponent, h, ref } from 'vue'
import type { Shapes } from '@/api/client'
import { Fault } from '@/api/fault'
import { serve, show } from '@/test/server'
import { useCustomerPromises } from './usePromises'

type Lines = Shapes['PromisesIn']['lines']
const line = (key: string) => ({ key, item_id: 1, quantity: '5', unit: 'H87' }) as Lines[number]
const later = (ms: number) => new Promise((go) => setTimeout(go, ms))

it('says of an answer that does not come that it is not known, and not what was known before', async () => {
  let answers = true
  serve((_, request) =>
    answers
      ? request.json().then((body: Shapes['PromisesIn']) => ({ lines: body.lines, short: 0 }))
      : new Fault(503, 'away', ''),
  )
  const lines = ref([line('a')])
  let promises!: ReturnType<typeof useCustomerPromises>
  const Asks = defineComponent(() => {
    promises = useCustomerPromises(7, lines)
    return () => h('p')
  })
  const retry = { retry: 1, retryDelay: 400 }
  show(Asks, {}, { client: new QueryClient({ defaultOptions: { queries: retry } }) })
  expect([promises.found.value, promises.unknown.value]).toEqual([undefined, 'asking'])
  await expect.poll(() => promises.unknown.value).toBe('')
  answers = false
  lines.value = [line('a'), line('b')]
  await later(100)
  expect(promises.unknown.value).toBe('') // while one types, the answer before stays
  await expect.poll(() => promises.unknown.value).toBe('asking') // it did not come at once
  expect(promises.byKey.value.has('a')).toBe(true)
  await expect.poll(() => promises.unknown.value).toBe('failed')
  answers = true
  lines.value = [line('a'), line('c')]
  await expect.poll(() => promises.byKey.value.has('c')).toBe(true)
  expect(promises.unknown.value).toBe('')
})
