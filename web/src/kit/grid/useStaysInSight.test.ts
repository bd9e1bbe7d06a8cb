import { mount } from '@vue/test-utils'
import { expect, it, vi } from 'vitest'
import { defineComponent, h } from 'vue'
import { useStaysInSight } from './useStaysInSight'

it('a cell is kept that the page pushed away before its scrolling was told', () => {
  let grown = () => undefined as void
  vi.stubGlobal(
    'ResizeObserver',
    class {
      constructor(told: () => void) {
        grown = told
      }
      observe = () => grown()
      disconnect = () => undefined
    },
  )
  const height = vi.spyOn(document.body, 'offsetHeight', 'get').mockReturnValue(800)
  const page = mount(
    defineComponent(() => {
      useStaysInSight(() => document.querySelector('input'))
      return () => h('input')
    }),
    { attachTo: document.body },
  )
  const cell = page.find('input').element
  const scrolled = vi.fn()
  cell.scrollIntoView = scrolled
  const lies = (top: number) =>
    vi.spyOn(cell, 'getBoundingClientRect').mockReturnValue({ top, bottom: top + 44 } as DOMRect)
  lies(500)
  cell.focus()
  // A late word pushes it down; that something was scrolled before is told first.
  height.mockReturnValue(1500)
  lies(1200)
  window.dispatchEvent(new Event('scroll'))
  grown()
  expect(scrolled).toHaveBeenCalledOnce()
  // Whoever scrolls away from it stays away.
  window.dispatchEvent(new Event('scroll'))
  height.mockReturnValue(1600)
  grown()
  expect(scrolled).toHaveBeenCalledOnce()
  page.unmount()
})
