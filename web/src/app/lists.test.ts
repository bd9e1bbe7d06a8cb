import { beforeEach, describe, expect, it } from 'vitest'
import type { Component } from 'vue'
import type { Shapes } from '@/api/client'
import { me } from '@/api/session'
import CustomersPage from '@/features/customers/CustomersPage.vue'
import DealsPage from '@/features/deals/DealsPage.vue'
import OrdersPage from '@/features/orders/OrdersPage.vue'
import KeptCases from '@/features/prices/KeptCases.vue'
import QuotesPage from '@/features/quotes/pages/QuotesPage.vue'
import { serve, show, shown } from '@/test/server'

let gate: ((body: object) => void) | undefined
const answer = (count: number) => ({
  ...{ rows: [], pages: 1, count },
  sums: { EUR: `${count}00.00`, amount: '1.00', weighted: '1.00', by_confidence: {} },
})
beforeEach(() => {
  gate = undefined
  me.value = { base_currency: 'EUR', base_digits: 2, people: [] } as unknown as Shapes['Me']
  serve((path) => {
    if (!/^\/api\/(quotes|orders|deals|customers|prices\/cases)\b/.test(path)) return []
    return /words=\w/.test(path) ? new Promise((go) => (gate = go)) : answer(7)
  })
})
const busy = (page: ReturnType<typeof show>['wrapper']) =>
  page.findAll('[aria-busy=true]').map((each) => each.element.tagName)

const STUBS = { stubs: { DayField: true, ChoiceField: true, ListTools: true } }
const pages: [string, Component, string[]][] = [
  ['quotes', QuotesPage, ['SECTION', 'DL']],
  ['orders', OrdersPage, ['SECTION', 'DL']],
  ['deals', DealsPage, ['SECTION', 'DL']],
  ['customers', CustomersPage, ['SECTION']],
]
describe('rows and sums of an earlier filter', () => {
  it.each(pages)(
    'are marked on the list of %s until the new ones are there',
    async (_, page, marked) => {
      const { wrapper, router } = show(page, {}, STUBS)
      await shown()
      expect(busy(wrapper)).toEqual([])
      await router.push('/?words=fellgate')
      await shown()
      expect(busy(wrapper)).toEqual(marked)
      expect(wrapper.findAll('.stale')).toHaveLength(marked.length)
      gate?.(answer(2))
      await shown()
      expect(busy(wrapper)).toEqual([])
      expect(wrapper.find('.stale').exists()).toBe(false)
    },
  )
  it('are marked among the kept cases too', async () => {
    const { wrapper } = show(KeptCases, { words: '', page: '1' }, STUBS)
    await shown()
    await wrapper.setProps({ words: 'fellgate' } as never)
    await shown()
    expect(busy(wrapper)).toEqual(['SECTION'])
    gate?.(answer(2))
    await shown()
    expect(busy(wrapper)).toEqual([])
  })
})
