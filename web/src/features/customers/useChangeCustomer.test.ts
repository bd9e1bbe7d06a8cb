import { beforeEach, describe, expect, it } from 'vitest'
import { defineComponent, h } from 'vue'
import { Fault } from '@/api/fault'
import { serve, show, shown } from '@/test/server'
import { useChangeCustomer } from './useChangeCustomer'

const NOW = {
  ...{ id: 3, version: 4, number: 'C-1003', name: 'Saltmarsh Vineyards', kind: 'wine estate' },
  ...{ tax_number: '', language: 'en', terms_days: 30, terms_end_of_month: '', terms_more: {} },
  ...{ tier: 'B', price_list_id: 1, parent_id: null, owner_id: 2, credit_limit: '5000.00' },
  price_lists: [],
}
let there: Record<string, unknown>
let sent: Record<string, unknown>[]
let form: ReturnType<typeof useChangeCustomer>

beforeEach(async () => {
  there = { ...NOW }
  sent = []
  serve(async (_, request) => {
    if (request.method !== 'GET') {
      const body = (await request.json()) as Record<string, unknown>
      sent.push(body)
      if (body.version !== there.version) return new Fault(409, 'stale', '')
      there = { ...there, ...body, version: Number(there.version) + 1 }
    }
    return there
  })
  const Page = defineComponent(() => {
    form = useChangeCustomer(3)
    return () => h('i')
  })
  show(Page, {})
  await shown()
})
/** A colleague changes it, and the page asks again. */
async function elsewhere(change: object): Promise<void> {
  there = { ...there, ...change, version: Number(there.version) + 1 }
  await form.refetch()
  await shown()
}

describe('a customer that somebody else changes meanwhile', () => {
  it('is shown as it is now, where nothing was typed', async () => {
    await elsewhere({ name: 'Saltmarsh Vineyard', tier: 'A' })
    expect([form.own.name, form.more.tier]).toEqual(['Saltmarsh Vineyard', 'A'])
  })
  it('keeps what was typed in another field, and saves it over what is there now', async () => {
    form.own.kind = 'vineyard'
    await elsewhere({ name: 'Saltmarsh Vineyard' })
    expect([form.own.name, form.own.kind]).toEqual(['Saltmarsh Vineyard', 'vineyard'])
    await form.saveOwn()
    expect(sent).toMatchObject([{ version: 5, name: 'Saltmarsh Vineyard', kind: 'vineyard' }])
    expect(form.elsewhere.value).toBe('')
  })
  it('is not overwritten where both changed one field: what was typed stays, and is refused', async () => {
    form.own.name = 'Saltmarsh Wines'
    await elsewhere({ name: 'Saltmarsh Vineyard' })
    expect(form.own.name).toBe('Saltmarsh Wines')
    await form.saveOwn()
    expect(sent).toMatchObject([{ version: 4 }])
    expect(there.name).toBe('Saltmarsh Vineyard')
    expect([form.own.name, form.fault.value?.status]).toEqual(['Saltmarsh Wines', 409])
    // Their words are shown; whoever saves again has read them.
    expect(form.theirs.value).toEqual(['Saltmarsh Vineyard'])
    await form.saveOwn()
    expect([there.name, form.theirs.value, form.elsewhere.value]).toEqual([
      'Saltmarsh Wines',
      [],
      '',
    ])
  })
  it('is refused once where nobody has asked since, with what others wrote', async () => {
    form.own.name = 'Saltmarsh Wines'
    there = { ...there, name: 'Saltmarsh Vineyard', kind: 'vineyard', version: 5 }
    await form.saveOwn()
    await shown()
    expect([form.own.name, form.own.kind]).toEqual(['Saltmarsh Wines', 'vineyard'])
    expect(form.theirs.value).toEqual(['Saltmarsh Vineyard'])
    await form.saveOwn()
    expect([there.name, there.kind]).toEqual(['Saltmarsh Wines', 'vineyard'])
  })
  it('is shown as it is now on demand, and what was typed is let go', async () => {
    form.own.name = 'Saltmarsh Wines'
    await elsewhere({ name: 'Saltmarsh Vineyard' })
    await form.saveOwn()
    await form.lookAgain()
    expect([form.own.name, form.elsewhere.value]).toEqual(['Saltmarsh Vineyard', ''])
    await form.saveOwn()
    expect(sent[1]).toMatchObject({ version: 5 })
  })
  it('two alike changes are none', async () => {
    form.own.name = 'Saltmarsh Wines'
    await elsewhere({ name: 'Saltmarsh Wines' })
    await form.saveOwn()
    expect(sent).toMatchObject([{ version: 5 }])
  })
})

describe('the two forms of a customer', () => {
  it('one is saved, and what was typed in the other stays', async () => {
    form.more.limit = '9000'
    form.terms.terms_days = 45
    form.own.kind = 'vineyard'
    await form.saveOwn()
    expect([form.more.limit, form.terms.terms_days]).toEqual(['9000', 45])
    await form.saveTerms()
    expect(sent[1]).toMatchObject({
      version: 5,
      credit_limit: '9000',
      terms_days: 45,
      no_limit: false,
    })
  })
  it('an emptied limit is no limit, and no parent is told as none', async () => {
    form.more.limit = ''
    await form.saveTerms()
    expect(sent[0]).toMatchObject({ credit_limit: null, no_limit: true, no_parent: true })
  })
})
