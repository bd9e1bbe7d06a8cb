import { QueryClient, VUE_QUERY_CLIENT } from '@tanstack/vue-query'
import { beforeEach, expect, it, vi } from 'vitest'
import { createApp, effectScope, nextTick } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import type { Shapes } from '@/api/client'
import { me } from '@/api/session'
import { useNewDeal } from './useNewDeal'

beforeEach(() => {
  me.value = { id: 4, usual_decision_days: 30, base_digits: 2 } as Shapes['Me']
  vi.stubGlobal('fetch', (request: Request) => {
    const id = Number(/customers\/(\d+)/.exec(request.url)?.[1])
    const contacts = [{ id: id * 10, name: `Contact of ${id}` }]
    return Promise.resolve(new Response(JSON.stringify({ id, contacts })))
  })
})
async function page(address: string) {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:rest(.*)*', component: { template: '<p />' } }],
  })
  await router.push(address)
  const app = createApp({}).use(router)
  app.provide(VUE_QUERY_CLIENT, new QueryClient())
  const form = app.runWithContext(() => effectScope(true).run(() => useNewDeal()))!
  await new Promise((go) => setTimeout(go, 10))
  await nextTick()
  return form
}

it('the contact of a kept form does not come along to another customer', async () => {
  const first = await page('/deals/new?customer=3')
  first.form.value.title = 'Posts'
  await nextTick()
  expect(first.form.value.contact).toBe(30)
  const second = await page('/deals/new?customer=5')
  expect(second.form.value).toMatchObject({ title: 'Posts', customer: 5, contact: 50 })
})
