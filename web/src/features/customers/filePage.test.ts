import { beforeEach, describe, expect, it } from 'vitest'
import { serve, show, shown } from '@/test/server'
import FilePage from './FilePage.vue'

const row = (at: number, state: string, more: object = {}) => ({
  ...{ state, row: at, name: `Customer ${at}`, number: '', id: null, people: 1, places: 0 },
  ...{ likely: [], again: [], ...more },
})
const LIKELY = { id: 7, number: 'C-1002', name: 'Hazelmoor', town: '', owner: '', why: ['tax'] }
const REPORT = {
  ...{ rows: 4, customers: 4, counts: { new: 1, changed: 0, same: 0, double: 2, refused: 1 } },
  told: [
    row(2, 'double', { likely: [LIKELY] }),
    row(4, 'double', { again: [{ row: 3, name: 'Customer 3', why: ['name_near'] }] }),
    row(3, 'new'),
  ],
  faults: [
    { row: 5, customer: 'Nobody', field: 'email', fault: { code: 'mail_wrong', message: '', path: '', facts: {} } }, // prettier-ignore
  ],
}
const lines = (...all: object[]) => all.map((each) => JSON.stringify(each)).join('\n') + '\n'
let asked: string[]
let page: ReturnType<typeof show>['wrapper']

beforeEach(async () => {
  asked = serve((path) =>
    path.startsWith('/api/customer-files?') ? lines({ done: 4 }, { result: REPORT }) : [],
  )
  page = show(FilePage).wrapper
  await shown()
})
async function choose(): Promise<void> {
  const input = page.get<HTMLInputElement>('input[type=file]')
  const file = new File(['Name\r\nx'], 'fair.csv', { type: 'text/csv' })
  Object.defineProperty(input.element, 'files', { value: [file], configurable: true })
  await input.trigger('change')
  await shown()
}
const sent = () => asked.filter((each) => each.startsWith('POST'))
const takeIn = () => page.findAll('button').find((each) => each.text().startsWith('Take in'))!

describe('a file of customers', () => {
  it('is tried first: what would come, what is refused and why, who is perhaps there', async () => {
    await choose()
    expect(sent()).toEqual(['POST /api/customer-files?keep=false&anyway='])
    const told = page.text()
    for (const words of ['1 new', '2 perhaps there already', '1 refused', 'Nobody'])
      expect(told).toContain(words)
    expect(told).toContain('the same tax number')
    expect(told).toContain('Row 3 of this file: Customer 3, a similar name')
    expect(takeIn().text()).toBe('Take in 1 customer')
  })
  it('takes a double in only by a person’s word, and says which rows', async () => {
    await choose()
    const own = page.findAll('label').find((each) => each.text().includes('row 4'))!
    await own.get('input').setValue(true)
    expect(takeIn().text()).toBe('Take in 2 customers')
    await takeIn().trigger('click')
    await shown()
    expect(sent()[1]).toBe('POST /api/customer-files?keep=true&anyway=4')
    expect(page.text()).toContain('Left out, as they are perhaps there already')
    expect(takeIn()).toBeUndefined()
  })
  it('forgets the word for one file where another is chosen', async () => {
    await choose()
    const all = page.findAll('label').find((each) => each.text().includes('All of them'))!
    await all.get('input').setValue(true)
    expect(takeIn().text()).toBe('Take in 3 customers')
    await choose()
    expect(takeIn().text()).toBe('Take in 1 customer')
  })
})
