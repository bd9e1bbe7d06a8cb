import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { nextTick } from 'vue'
import { createMemoryHistory, createRouter, type Router } from 'vue-router'
import { focusOnArrival } from './arrival'

const page = { template: '<p />' }
let router: Router
let main: HTMLElement
/** Lets the page arrive that is on its way. */
let arrive: () => void
beforeEach(() => {
  document.body.innerHTML =
    '<a href="#">link</a><i tabindex="0"></i><input><main tabindex="-1"><button></button></main>'
  main = document.querySelector('main')!
  router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/here', component: () => new Promise((go) => (arrive = () => go(page))) },
      { path: '/there', component: () => new Promise((go) => (arrive = () => go(page))) },
    ],
  })
  focusOnArrival(router, () => main)
})
afterEach(() => (document.body.innerHTML = ''))
async function go(to: string, meanwhile: () => void = () => undefined): Promise<Element | null> {
  const gone = router.push(to)
  await new Promise((on) => setTimeout(on))
  meanwhile()
  arrive()
  await gone
  await nextTick()
  return document.activeElement
}
const focus = (what: string) => document.querySelector<HTMLElement>(what)!.focus()

describe('the focus on a new page', () => {
  it('goes to its top, also from the link that led there', async () => {
    expect(await go('/here')).toBe(main)
    focus('a')
    expect(await go('/there')).toBe(main)
  })
  it('stays where a person types while the first page comes', async () => {
    expect(await go('/here', () => focus('input'))).toBe(document.querySelector('input'))
  })
  it('stays where a person types while another page comes', async () => {
    await go('/here')
    focus('a')
    expect(await go('/there', () => focus('input'))).toBe(document.querySelector('input'))
  })
  it('goes to its top also from what a menu gave it back to as it closed', async () => {
    await go('/here')
    expect(await go('/there', () => focus('i'))).toBe(main)
  })
  it('stays where the page itself put it', async () => {
    await go('/here')
    expect(await go('/there', () => focus('button'))).toBe(document.querySelector('button'))
  })
})
