import { beforeEach, expect, it } from 'vitest'
import type { Shapes } from '@/api/client'
import { me } from '@/api/session'
import { serve, show, shown } from '@/test/server'
import NewDealPage from './NewDealPage.vue'

let asked: string[]
beforeEach(() => {
  me.value = {
    ...{ id: 4, base_currency: 'EUR', base_digits: 2, people: [], usual_decision_days: 30 },
  } as unknown as Shapes['Me']
  asked = serve((path) => (path === '/api/deals' ? { id: 12 } : []))
})

it('no deal is made of an estimate that cannot be read', async () => {
  const { wrapper } = show(
    NewDealPage,
    {},
    { stubs: { DayField: true, ChoiceField: true, CustomerPick: true } },
  )
  const made = () => asked.filter((path) => path.startsWith('POST'))
  const estimate = wrapper.get<HTMLInputElement>('input[name=estimate]')
  await estimate.trigger('focusin')
  await estimate.setValue('1,200')
  await wrapper.get('form').trigger('submit')
  await shown()
  expect([made(), estimate.element.value]).toEqual([[], '1,200'])
  expect(document.activeElement).toBe(estimate.element)
  await estimate.setValue('1200')
  await wrapper.get('form').trigger('submit')
  await shown()
  expect(made()).toEqual(['POST /api/deals'])
})
