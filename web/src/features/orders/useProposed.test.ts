import { mount } from '@vue/test-utils'
import { expect, it, vi } from 'vitest'
import { defineComponent, h } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import { shown } from '@/test/server'
import { useProposed } from './useProposed'

async function opened(address: string) {
  const open = vi.fn()
  let proposed: ReturnType<typeof useProposed> | undefined
  const Page = defineComponent(() => {
    proposed = useProposed(open)
    return () => h('p')
  })
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/orders/:id', component: Page }],
  })
  await router.push(address)
  mount(Page, { global: { plugins: [router] } })
  await shown()
  return { open, proposed, router }
}

it('opens the change with the depot that a link proposed, and leaves it out of the address', async () => {
  const { open, proposed, router } = await opened('/orders/3?line=7&depot=2#change')
  expect(open).toHaveBeenCalledOnce()
  expect(proposed?.value).toEqual({ line: 7, depot: 2 })
  // Reloaded, or come back to, it is an order like any other.
  expect(router.currentRoute.value.fullPath).toBe('/orders/3#change')
})
it.each(['/orders/3', '/orders/3?line=7', '/orders/3?line=x&depot=2', '/orders/3?depot=2'])(
  'leaves %s closed',
  async (address) => {
    const { open, proposed } = await opened(address)
    expect(open).not.toHaveBeenCalled()
    expect(proposed?.value).toBeNull()
  },
)
