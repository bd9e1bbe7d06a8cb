import { expect, it } from 'vitest'
import { moving, openIn, peopleIn, type Mail } from './mails'

it('addresses are read with their names, and the first that is none is told', () => {
  expect(peopleIn('Ada Finch <ada@x.example>; bo@y.example,')).toEqual({
    people: [
      { name: 'Ada Finch', address: 'ada@x.example' },
      { name: '', address: 'bo@y.example' },
    ],
    wrong: '',
  })
  expect(peopleIn('"Finch, A"').wrong).toBe('"Finch')
  expect(peopleIn('ada@x.example, nobody').wrong).toBe('nobody')
  expect(peopleIn('ada@x').wrong).toBe('ada@x')
  expect(peopleIn(' ')).toEqual({ people: [], wrong: '' })
})

it('fields that are still open are each told once', () => {
  expect(openIn('Dear ⟨contact⟩, ⟨number⟩ and ⟨contact⟩')).toEqual(['contact', 'number'])
  expect(openIn('Dear {contact}')).toEqual([])
})

it('what is on its way is looked up, what waits for long is not', () => {
  const mail = (state: string, tries: number) => ({ state, tries }) as Mail
  expect(moving([mail('sent', 1), mail('waiting', 0)])).toBe(true)
  expect(moving([mail('waiting', 5), mail('unknown', 1)])).toBe(false)
  expect(moving(undefined)).toBe(false)
})
