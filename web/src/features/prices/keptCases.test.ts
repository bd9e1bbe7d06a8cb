import { ref } from 'vue'
import { beforeEach, expect, it } from 'vitest'
import { serve, show, shown } from '@/test/server'
import KeptCases from './KeptCases.vue'

const CASE = { customer: 'Fellgate', on: '2026-11-02', lines: 3, net: '89.00', payable: '105.91' }
const FACTS = { ...CASE, currency: 'EUR', kept_by: 'Petra' }
let kept: { id: number; name: string }[]
beforeEach(() => {
  kept = [
    { id: 4, name: 'Posts' },
    { id: 5, name: 'Nets' },
  ]
  serve((path) => {
    if (!path.endsWith('/run')) {
      return { rows: kept.map((row) => ({ ...FACTS, ...row })), pages: 1, count: kept.length }
    }
    const runs = [{ case_id: 5, name: 'Nets', fault: null, differences: [MOVED] }]
    return `{"done": 2}\n{"result": ${JSON.stringify({ cases: 2, newest: 5, runs })}}\n`
  })
})
const MOVED = { where: 'payable', expected: '105.91', found: '106.10' }

it('a kept case says that it holds where it was run, and nothing where it never was', async () => {
  const words = ref('')
  const { wrapper, client } = show(KeptCases, { words: words.value, page: '1' })
  await shown()
  const verdicts = () =>
    wrapper.findAll('tbody tr:not(:has(.fold))').map((row) => row.findAll('td')[8]?.text())
  expect(verdicts()).toEqual(['', ''])
  await wrapper.get('.tools button').trigger('click')
  await shown()
  expect(verdicts()).toEqual(['holds', expect.stringMatching(/1/)])
  kept = [...kept, { id: 6, name: 'Wire' }]
  await client.invalidateQueries({ queryKey: ['kept-cases'] })
  await shown()
  expect(verdicts()).toEqual(['holds', expect.stringMatching(/1/), ''])
})
