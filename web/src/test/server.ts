/** A server for the tests of a page or a panel: what it answers to which path, and what it was asked. */
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { mount } from '@vue/test-utils'
import { vi } from 'vitest'
import { nextTick, type Component } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import { Fault } from '@/api/fault'
import { i18n } from '@/words'

/** Given a path with its query, what comes back: a value, a promise of one, or a `Fault`. */
export type Answers = (path: string, request: Request) => unknown

export function serve(answers: Answers): string[] {
  const asked: string[] = []
  vi.stubGlobal('fetch', async (given: Request | string, init?: RequestInit) => {
    const request =
      given instanceof Request ? given : new Request(new URL(given, 'http://house'), init)
    const { pathname, search } = new URL(request.url)
    asked.push(`${request.method} ${pathname}${search}`)
    const body = await answers(pathname + search, request)
    if (body instanceof Fault) {
      const { status, code, path, facts } = body
      return new Response(JSON.stringify({ code, message: '', path, facts }), { status })
    }
    return new Response(typeof body === 'string' ? body : JSON.stringify(body))
  })
  return asked
}
/** A component with a router and a query client, as the application has them. */
export function show(
  component: Component,
  props: object = {},
  given: { client?: QueryClient; stubs?: Record<string, boolean> } = {},
) {
  const page = { template: '<p />' }
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:rest(.*)*', component: page }],
  })
  const client = given.client ?? new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const wrapper = mount(component, {
    props: props as never,
    attachTo: document.body,
    global: {
      plugins: [i18n, router, [VueQueryPlugin, { queryClient: client }]],
      stubs: given.stubs ?? {},
    },
  })
  return { wrapper, client, router }
}
/** Until what was asked has been answered and is on the screen. */
export async function shown(): Promise<void> {
  for (let n = 0; n < 6; n++) {
    await new Promise((go) => setTimeout(go, 0))
    await nextTick()
  }
}
