import { expect, it } from 'vitest'
import type { Shapes } from '@/api/client'
import { me } from '@/api/session'
import { serve, show, shown } from '@/test/server'
import TodayPage from './TodayPage.vue'

it('several stops of one record stand side by side, and the one that is done goes', async () => {
  me.value = { name: 'Ilse', leads: false } as unknown as Shapes['Me']
  const stop = (id: number, title: string, to: string) => ({
    ...{ kind: 'follow_up', title, to, customer: 'Fellgate', detail: '', state: '', days: 0 },
    ...{ amount: null, currency: 'EUR', on: '2026-11-26', activity_id: id, version: 1, books: [] },
  })
  let stops = [stop(1, 'Ring Mara', '/deals/4'), stop(2, 'Send prices', '/deals/4'), stop(3, 'Visit', '/deals/5')] // prettier-ignore
  const none = {
    trouble: [],
    stumbled: [],
    news: [],
    sign_offs: [],
    lapsing: [],
    overdue_deals: [],
    stopped: [],
    lacking: [],
    answers: [],
    mails: [],
    told: [],
    ahead: [],
  }
  const sum = { amount: '0.00', count: 0, to: '/deals' }
  const sums = { open_pipeline: sum, weighted_this_month: sum, orders_under_way: sum }
  serve(() => ({ day: '2026-11-26', currency: 'EUR', ...none, ...sums, follow_ups: stops }))
  const { wrapper, client } = show(TodayPage)
  await shown()
  const titles = () => wrapper.findAll('.stop .title').map((each) => each.text())
  expect(titles()).toEqual(['Ring Mara', 'Send prices', 'Visit'])
  stops = [stops[2]!, stops[1]!, stop(4, 'Ask again', '/deals/4')]
  await client.invalidateQueries({ queryKey: ['today'] })
  await shown()
  expect(titles()).toEqual(['Visit', 'Send prices', 'Ask again'])
})
