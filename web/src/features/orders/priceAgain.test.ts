import { expect, it } from 'vitest'
import type { Shapes } from '@/api/client'
import { serve, show, shown } from '@/test/server'
import PriceAgain from './PriceAgain.vue'
import type { Order } from './queries'

const row = (position: number, moved: boolean) =>
  ({
    position,
    item: `I-${position}`,
    text: 'Post',
    price: '10.00',
    price_now: '12.00',
    net: '100.00',
    net_now: '120.00',
    moved,
  }) as Shapes['AgainRow']
const told = (more: object) => ({
  mark: 'm',
  moved: 1,
  rows: [row(1, true), row(2, false)],
  payable: '240.00',
  payable_now: '264.00',
  currency: 'EUR',
  may: true,
  within_limits: true,
  ...more,
})
const order = { id: 7, version: 1 } as Order
async function open(more: object) {
  serve(() => told(more))
  const { wrapper } = show(PriceAgain, { order, busy: false })
  await shown()
  if (wrapper.find('button').exists()) await wrapper.find('button').trigger('click')
  await shown()
  return wrapper
}

it('shows what has moved, and takes only what was seen', async () => {
  const wrapper = await open({})
  expect(wrapper.text()).toContain('1 price has moved since')
  expect(wrapper.findAll('tbody tr')).toHaveLength(1)
  expect(wrapper.text()).toContain('240.00, today 264.00')
  const press = async (name: string) => {
    const button = wrapper.findAll('button').find((each) => each.text() === name)
    await button!.trigger('click')
    await shown()
  }
  await press('Take today’s prices')
  expect(wrapper.emitted('take')).toBeUndefined() // it asks once more
  await press('Take today’s prices')
  expect(wrapper.emitted('take')).toEqual([[{ mark: 'm', payable: '264.00' }]])
})
it('says where nothing has moved', async () => {
  expect((await open({ moved: 0, rows: [] })).text()).toContain('no rule has moved since')
})
it('offers nothing to take where it is handed over', async () => {
  expect((await open({ may: false })).text()).not.toContain('Take today’s prices')
})
it('beyond a limit it says that somebody must sign it off', async () => {
  const wrapper = await open({ within_limits: false })
  expect(wrapper.text()).toContain('somebody must sign the order off')
  expect(wrapper.text()).toContain('Take today’s prices')
})
