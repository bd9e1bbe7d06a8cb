import { expect, it } from 'vitest'
import { defineComponent, h, nextTick, ref } from 'vue'
import { show, shown } from '@/test/server'
import { useWantedMail } from './useWantedMail'

const there = ref(false)
const Card = defineComponent(() => {
  const card = ref<HTMLElement | null>(null)
  const { leadIn } = useWantedMail()
  leadIn(card, () => there.value)
  const letter = (key: string) => h('details', { id: `mail-${key}` }, h('summary', key))
  return () => h('section', { ref: card }, there.value ? ['in-1', 'out-2'].map(letter) : [])
})

it('leads to a mail once it is there, and to another one that a link of the same page asks for', async () => {
  there.value = false
  const { wrapper, router } = show(Card)
  await router.push('/customers/7#mail-in-1')
  await shown()
  expect(document.activeElement).toBe(document.body)
  there.value = true
  await shown()
  expect(document.activeElement?.textContent).toBe('in-1')

  await router.push('/customers/7#mail-out-2')
  await nextTick()
  await shown()
  expect(document.activeElement?.textContent).toBe('out-2')

  // Where nothing is asked for, the keyboard stays where it is.
  await router.push('/customers/7')
  await shown()
  expect(document.activeElement?.textContent).toBe('out-2')
  wrapper.unmount()
})
