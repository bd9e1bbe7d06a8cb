import { describe, expect, it } from 'vitest'
import { effectScope } from 'vue'
import { isStroke, keyPlaces, useKeys } from './useKeys'

const stroke = (key: string, more: KeyboardEventInit = {}) =>
  new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more })

describe('a stroke', () => {
  it('is told apart by its letters and the keys held with it', () => {
    expect(isStroke(stroke('k', { ctrlKey: true }), 'Ctrl K')).toBe(true)
    expect(isStroke(stroke('k', { metaKey: true }), 'Ctrl K')).toBe(true)
    expect(isStroke(stroke('k'), 'Ctrl K')).toBe(false)
    expect(isStroke(stroke('ArrowUp', { ctrlKey: true, shiftKey: true }), 'Ctrl Shift ↑')).toBe(
      true,
    )
    expect(isStroke(stroke('ArrowUp', { ctrlKey: true }), 'Ctrl Shift ↑')).toBe(false)
  })
  it('with Alt goes by the place of the key, where Alt makes another letter of it', () => {
    expect(isStroke(stroke('å', { altKey: true, code: 'KeyA' }), 'Alt A')).toBe(true)
  })
  it('of a sign does not ask how the keyboard makes it', () => {
    expect(isStroke(stroke('?', { shiftKey: true }), '?')).toBe(true)
    expect(isStroke(stroke('?'), '?')).toBe(true)
  })
})

describe('the keys of a place', () => {
  it('act, are shown, and are gone with the place', () => {
    let acted = 0
    const scope = effectScope()
    scope.run(() =>
      useKeys({ title: 'Here', keys: [{ keys: 'Alt L', does: 'lines', act: () => acted++ }] }),
    )
    window.dispatchEvent(stroke('l', { altKey: true, code: 'KeyL' }))
    expect([acted, keyPlaces.value.map((p) => p.title)]).toEqual([1, ['Here']])
    scope.stop()
    window.dispatchEvent(stroke('l', { altKey: true, code: 'KeyL' }))
    expect([acted, keyPlaces.value]).toEqual([1, []])
  })
  it('leave a person alone who types, unless they are meant for that', () => {
    const acted: string[] = []
    const scope = effectScope()
    scope.run(() =>
      useKeys({
        title: 'Here',
        keys: [
          { keys: 'Ctrl Z', does: 'undo', act: () => acted.push('undo') },
          { keys: 'Ctrl K', does: 'go', act: () => acted.push('go'), whileTyping: true },
        ],
      }),
    )
    const field = document.body.appendChild(document.createElement('input'))
    field.dispatchEvent(stroke('z', { ctrlKey: true }))
    field.dispatchEvent(stroke('k', { ctrlKey: true }))
    expect(acted).toEqual(['go'])
    document.body.dispatchEvent(stroke('z', { ctrlKey: true }))
    expect(acted).toEqual(['go', 'undo'])
    scope.stop()
  })
  it('that hold in a field go before the field’s own', () => {
    const acted: string[] = []
    const scope = effectScope()
    const keys = [{ keys: 'Ctrl Enter', does: 'next', act: () => acted.push('next'), whileTyping: true }] // prettier-ignore
    scope.run(() => useKeys({ title: 'Here', keys }))
    const field = document.body.appendChild(document.createElement('input'))
    field.addEventListener('keydown', (event) => {
      event.stopPropagation()
      acted.push('opens its list')
    })
    field.dispatchEvent(stroke('Enter', { ctrlKey: true }))
    expect(acted).toEqual(['next'])
    scope.stop()
  })
  it('of a panel go before those of the page under it', () => {
    const acted: string[] = []
    const places = ['page', 'panel'].map((name) => {
      const scope = effectScope()
      const keys = [{ keys: 'Ctrl Enter', does: 'go', act: () => acted.push(name), whileTyping: true }] // prettier-ignore
      scope.run(() => useKeys({ title: name, keys }))
      return scope
    })
    window.dispatchEvent(stroke('Enter', { ctrlKey: true }))
    expect(acted).toEqual(['panel'])
    places[1]?.stop()
    window.dispatchEvent(stroke('Enter', { ctrlKey: true }))
    expect(acted).toEqual(['panel', 'page'])
    places[0]?.stop()
  })
})
