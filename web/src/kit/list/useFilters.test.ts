import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { defineComponent, h } from 'vue'
import { createMemoryHistory, createRouter, type Router } from 'vue-router'
import { useFilters } from './useFilters'

const DEFAULTS = { state: 'open', words: '', page: '1' }
let filters: ReturnType<typeof useFilters<keyof typeof DEFAULTS>>

async function list(address: string): Promise<Router> {
  const List = defineComponent(() => {
    filters = useFilters(DEFAULTS)
    return () => h('p')
  })
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/list', component: List }],
  })
  await router.push(address)
  mount(List, { global: { plugins: [router] } })
  return router
}
const settled = (router: Router) =>
  new Promise<string>((go) => setTimeout(() => go(router.currentRoute.value.fullPath)))

describe('filters in the address', () => {
  it('are read from it, with the usual ones where it is silent', async () => {
    await list('/list?words=posts')
    expect(filters.values.value).toEqual({ state: 'open', words: 'posts', page: '1' })
  })
  it('are written into it, but for the usual ones, so that a link says only what differs', async () => {
    const router = await list('/list')
    filters.filters.words.value = 'larch'
    expect(await settled(router)).toBe('/list?words=larch')
    filters.filters.words.value = ''
    expect(await settled(router)).toBe('/list')
  })
  it('lead back to the first page, since the second of another list is not what was asked for', async () => {
    const router = await list('/list?page=3')
    filters.filters.state.value = 'won'
    expect(await settled(router)).toBe('/list?state=won')
    filters.filters.page.value = '2'
    expect(await settled(router)).toBe('/list?state=won&page=2')
  })
  it('changed twice in one go are both there', async () => {
    const router = await list('/list')
    filters.filters.words.value = 'larch'
    filters.filters.state.value = 'lost'
    expect(await settled(router)).toBe('/list?state=lost&words=larch')
  })
  it('follow Back, and a change after it starts from there', async () => {
    const router = await list('/list?words=larch')
    await router.push('/list?words=oak')
    router.back()
    expect(await settled(router)).toBe('/list?words=larch')
    expect(filters.filters.words.value).toBe('larch')
    filters.filters.state.value = 'won'
    expect(await settled(router)).toBe('/list?state=won&words=larch')
  })
})
