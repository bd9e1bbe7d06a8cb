import { describe, expect, it } from 'vitest'
import { serve, show, shown } from '@/test/server'
import PastPrices from '@/parts/line/PastPrices.vue'
import ImportReport from './ImportReport.vue'
import MovedTables from './MovedTables.vue'

describe('rows that share what names them', () => {
  it('two faults of one row of a file are both told, also of the next file', async () => {
    const fault = (row: number, field: string) => {
      return {
        row,
        field,
        fault: { code: 'required', message: 'Needed.', path: field, params: {} },
      }
    }
    const report = (...faults: object[]) => ({ rows: 9, good: 7, faults })
    const faults = [fault(3, 'price'), fault(3, 'price'), fault(4, 'item')]
    const { wrapper } = show(ImportReport, {
      report: report(...faults),
      file: 'a.csv',
      busy: false,
    })
    expect(wrapper.findAll('li')).toHaveLength(3)
    await wrapper.setProps({ report: report(faults[2]!, faults[0]!, fault(3, 'item')) } as never)
    expect(wrapper.findAll('li').map((each) => each.text()[4])).toEqual(['4', '3', '3'])
  })
  it('two prices of one order and day are two points of the line', async () => {
    const past = (price: string, order = 'SO-26-0004') => {
      return { on: '2026-05-04', price, quantity: '10', order, order_id: 4 }
    }
    let rows = [past('8.90'), past('8.50'), past('8.70', 'SO-26-0009')]
    serve(() => rows)
    const { wrapper, client } = show(PastPrices, { customer: 1, item: 2, unit: 'piece' })
    await shown()
    expect(wrapper.findAll('circle')).toHaveLength(3)
    rows = [rows[2]!, rows[1]!, past('8.10')]
    await client.invalidateQueries()
    await shown()
    expect(wrapper.findAll('title').map((each) => each.text().slice(-16, -12))).toHaveLength(3)
  })
  it('two kept cases of one name are two rows of what a change moves', async () => {
    const moved = (name: string, after: string) => ({
      name,
      before: '89.00',
      after,
      currency: 'EUR',
    })
    const ahead = (...cases: object[]) => ({
      ...{ open_quotes: 0, moved: [], kept_cases: 4, cases_moved: cases },
    })
    const two = [moved('Posts', '90.00'), moved('Posts', '91.00')]
    const nets = moved('Nets', '92.00')
    const wire = moved('Wire', '93.00')
    const { wrapper } = show(MovedTables, { ahead: ahead(nets, ...two, wire) })
    await wrapper.setProps({ ahead: ahead(wire, ...two, nets) } as never)
    expect(wrapper.findAll('tbody tr').map((row) => row.text().slice(0, 4))).toEqual([
      'Wire',
      'Post',
      'Post',
      'Nets',
    ])
  })
})
