import { describe, expect, it } from 'vitest'
import { whereTo } from './router'

const at = (path: string, more: object = {}) => ({ path, hash: '', query: {}, params: {}, ...more })

describe('where a page is scrolled to', () => {
  it('begins at the top of another page', () => {
    expect(whereTo(at('/quotes'), at('/today'))).toEqual({ top: 0 })
  })
  it('stays where it is when a filter changes', () => {
    expect(whereTo(at('/quotes', { query: { words: 'x' } }), at('/quotes'))).toBe(false)
  })
  it('begins anew with another page of a list, not with one of a card', () => {
    const turned = { query: { page: '2' } }
    expect(whereTo(at('/quotes', turned), at('/quotes'))).toEqual({ top: 0 })
    const card = { ...turned, params: { id: '9' } }
    expect(whereTo(at('/customers/9', card), at('/customers/9'))).toBe(false)
  })
  it('goes to what an address names', () => {
    const to = at('/customers/9', { hash: '#documents' })
    expect(whereTo(to, at('/customers/9'))).toEqual({ el: '#documents', top: 8 })
  })
})
