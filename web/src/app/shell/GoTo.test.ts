import { mount, type VueWrapper } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'
import { createMemoryHistory, createRouter, type Router } from 'vue-router'
import type { Shapes } from '@/api/client'
import { me } from '@/api/session'
import GoTo from './GoTo.vue'

/** What the server found for which letters; without an entry it is still looking. */
let answers: Record<
  string,
  (hits: { kind: string; name: string; detail: string; to: string }[]) => void
>
let asked: string[]
let router: Router
let wrapper: VueWrapper
const HIT = { kind: 'customer', name: 'Fellgate Orchards', detail: 'C-1007', to: '/customers/7' }
const OTHER = { kind: 'customer', name: 'Fenwick Farm', detail: 'C-1009', to: '/customers/9' }

beforeEach(async () => {
  vi.useFakeTimers()
  answers = {}
  asked = []
  vi.stubGlobal('fetch', (request: Request) => {
    const words = new URL(request.url, 'http://house').searchParams.get('words') ?? ''
    asked.push(words)
    return new Promise<Response>((go) => {
      answers[words] = (hits) => go(new Response(JSON.stringify(hits)))
    })
  })
  me.value = { sells: true } as Shapes['Me']
  const page = { template: '<p />' }
  router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:rest(.*)*', component: page }],
  })
  await router.push('/today')
  wrapper = mount(GoTo, { attachTo: document.body, global: { plugins: [router] } })
})
afterEach(() => wrapper.unmount())
const field = () => wrapper.get('input')
const at = () => router.currentRoute.value.fullPath
async function type(text: string): Promise<void> {
  await field().trigger('focus')
  await field().setValue(text)
  await vi.advanceTimersByTimeAsync(300)
}
async function answer(words: string, hits: (typeof HIT)[]): Promise<void> {
  answers[words]?.(hits)
  await vi.advanceTimersByTimeAsync(5)
  await nextTick()
}
async function press(key: string): Promise<void> {
  await field().trigger('keydown', { key })
  await vi.advanceTimersByTimeAsync(5)
}

describe('“Go to…”', () => {
  it('opens the hit of the letters that stand there, even where Enter came first', async () => {
    await type('fe')
    await answer('fe', [OTHER])
    await field().setValue('fel')
    await press('Enter')
    expect(at()).toBe('/today')
    await vi.advanceTimersByTimeAsync(300)
    await answer('fel', [HIT])
    expect(at()).toBe('/customers/7')
  })
  it('goes through the hits by arrows and names the one that is pointed at', async () => {
    await type('fe')
    await answer('fe', [HIT, OTHER])
    await press('ArrowDown')
    const active = field().attributes('aria-activedescendant')
    expect(wrapper.get(`#${active}`).text()).toContain('Fenwick Farm')
    expect(wrapper.get(`#${active}`).attributes('aria-selected')).toBe('true')
    await press('Enter')
    expect(at()).toBe('/customers/9')
  })
  it('knows commands by their words; one pointed at stays that one when hits come in above it', async () => {
    await type('timet')
    await press('ArrowDown')
    await answer('timet', [HIT, OTHER])
    const pointed = wrapper.findAll('[role=option][aria-selected=true]')
    expect(pointed.map((each) => each.text())).toEqual([expect.stringContaining('Timetable')])
    await press('Enter')
    expect(at()).toBe('/timetable')
  })
  it('tells looking from nothing found, and both from a failure', async () => {
    await type('xy')
    expect(wrapper.get('[role=status]').text()).toBe('Looking…')
    await answer('xy', [])
    expect(wrapper.get('[role=status]').text()).toBe('Nothing by that name.')
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('cut')))
    await type('xyz')
    await vi.advanceTimersByTimeAsync(10_000)
    expect(wrapper.get('[role=status]').text()).not.toMatch(/Nothing|Looking/)
  })
  it('still has its commands where the server is not well', async () => {
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('cut')))
    await type('timet')
    await vi.advanceTimersByTimeAsync(10_000)
    await press('Enter')
    expect(at()).toBe('/timetable')
  })
  it('asks nobody for a single letter', async () => {
    await type('f')
    expect(asked).toEqual([])
  })
})
