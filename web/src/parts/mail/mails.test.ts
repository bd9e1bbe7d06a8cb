import { expect, it } from 'vitest'
import {
  conversation,
  holds,
  moving,
  openIn,
  peopleIn,
  wantedOf,
  type Arrived,
  type Mail,
} from './mails'

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

it('what went out and what came in are one conversation, the newest first', () => {
  const out = (id: number, sent_at: string | null) =>
    ({ id, sent_at, created_at: '2026-12-01T08:00:00Z' }) as Mail
  const came = (id: number, written_at: string) => ({ id, written_at }) as Arrived
  const found = conversation(
    [out(1, null), out(2, '2026-12-01T11:00:00Z')],
    [came(1, '2026-12-01T10:30:00+01:00'), came(2, '2026-12-01T12:00:00Z')],
  )
  expect(found.map(({ key }) => key)).toEqual(['in-2', 'out-2', 'in-1', 'out-1'])
})

it('a mail is found by all the words that it holds, whoever wrote it', () => {
  const files = [{ id: 1, name: 'Order.csv', size: 3 }]
  const shown = {
    subject: 'Posts',
    text: 'Forty, please',
    sender: 'Maren Holt',
    address: 'm@g.example',
  }
  const [letter] = conversation([], [{ id: 1, ...shown, files } as Arrived])
  expect(holds(letter!, 'forty maren')).toBe(true)
  expect(holds(letter!, 'order.CSV')).toBe(true)
  expect(holds(letter!, 'forty wire')).toBe(false)
  expect(holds(letter!, ' ')).toBe(true)
})

it('an address asks for all mails of a record, for one of them, or for none', () => {
  expect(wantedOf('#mail')).toEqual({ all: true, key: '', sent: undefined, came: undefined })
  expect(wantedOf('#mail-in-12')).toEqual({ all: false, key: 'in-12', sent: undefined, came: 12 })
  expect(wantedOf('#mail-out-3')).toMatchObject({ key: 'out-3', sent: 3, came: undefined })
  expect(wantedOf('#mails')).toMatchObject({ all: false, key: '' })
})
