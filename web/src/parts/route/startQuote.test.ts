import { VueQueryPlugin } from '@tanstack/vue-query'
import { mount } from '@vue/test-utils'
import { expect, it, vi } from 'vitest'
import { createMemoryHistory, createRouter } from 'vue-router'
import StartQuote from './StartQuote.vue'

it('a quote is started once, however often the button is pressed', async () => {
  let made = 0
  vi.stubGlobal('fetch', async () => {
    made += 1
    await new Promise((go) => setTimeout(go, 20))
    return new Response(JSON.stringify({ id: 40 + made }))
  })
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:rest(.*)*', component: { template: '<p />' } }],
  })
  const wrapper = mount(StartQuote, {
    props: { deal: 3 },
    global: { plugins: [router, VueQueryPlugin] },
  })
  const start = (wrapper.vm as unknown as { start: () => Promise<unknown> }).start
  void wrapper.get('button').trigger('click')
  void wrapper.get('button').trigger('click')
  await start()
  await new Promise((go) => setTimeout(go, 60))
  expect(made).toBe(1)
  expect(router.currentRoute.value.fullPath).toBe('/quotes/41')
})
