import { expect, it } from 'vitest'
import { filesIn, pastedIn, sizeOf } from './files'

it('a size is said in kilobytes, from a million on in megabytes', () => {
  expect([1, 1499, 999_999, 1_000_000, 14_960_000].map(sizeOf)).toEqual([
    '1 kB',
    '1 kB',
    '1000 kB',
    '1.0 MB',
    '15.0 MB',
  ])
})
it('a picture is pasted, cells of a spreadsheet with their picture are not', () => {
  const file = new File(['x'], 'image.png')
  const laid = (types: string[]) => ({ files: [file], types }) as unknown as DataTransfer
  expect(filesIn(null)).toEqual([])
  expect(filesIn(laid(['Files']))).toEqual([file])
  expect(pastedIn(laid(['Files']))).toEqual([file])
  expect(pastedIn(laid(['text/plain', 'text/html', 'Files']))).toEqual([])
})
