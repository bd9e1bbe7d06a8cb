import { expect, test } from 'vitest'
import { laidOut } from './laidOut'

test('JSON is laid out by its parts, and what is none stays as it came', () => {
  expect(laidOut('{"a":[1]}')).toBe('{\n  "a": [\n    1\n  ]\n}')
  expect(laidOut('<html>')).toBe('<html>')
})
test('a paper is laid out by its elements, nothing of it is lost', () => {
  const xml = '<Order xmlns="x"><ID>1</ID><Line><Qty u="H87">2</Qty><Note /></Line></Order>'
  const raw = JSON.stringify({ kind: 'taken', data: { ubl: xml } })
  expect(laidOut(raw)).toBe(
    [
      '<Order xmlns="x">',
      '  <ID>1</ID>',
      '  <Line>',
      '    <Qty u="H87">2</Qty>',
      '    <Note />',
      '  </Line>',
      '</Order>',
    ].join('\n'),
  )
})
