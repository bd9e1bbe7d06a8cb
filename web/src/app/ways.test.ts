import { describe, expect, it } from 'vitest'
import { needs, whereTo } from './ways'

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

describe('a page about what its address names', () => {
  const asked = needs('other', (to) => `/customers/${String(to.params.id)}`)
  const with_ = (query: object) => asked(at('/customers/7/merge', { query, params: { id: '7' } }))

  it('opens where a number is named, or several', () => {
    expect([with_({ other: '9' }), with_({ other: '9,12' })]).toEqual([true, true])
  })
  it('leads to where it is chosen otherwise, and never waits for nothing', () => {
    const wrong = [{}, { other: '' }, { other: 'new' }, { other: '0' }, { other: ['9', 'x'] }]
    expect(wrong.map(with_)).toEqual(wrong.map(() => '/customers/7'))
  })
})
