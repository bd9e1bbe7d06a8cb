import { beforeEach, describe, expect, it } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import { Fault } from '@/api/fault'
import { serve, show, shown } from '@/test/server'
import { movable, useMove, type Plan } from './useMove'

const rider = (line: string, by: string) => ({
  line,
  by,
  name: line ? 'Hazelmoor' : '',
  order: line,
  order_id: line ? 1 : null,
  quantity: '8',
})
const plan = (...riders: ReturnType<typeof rider>[]) =>
  ({ depot_id: 4, depot: 'Northgate', departures: [{ riders }] }) as unknown as Plan
const OURS = plan(rider('b', '2026-12-09'), rider('', '2026-12-01'), rider('a', '2026-12-02'))
const row = { name: 'Hazelmoor', before: '2026-12-02', after: '2026-12-09' }

let found: ReturnType<typeof useMove>
let told: boolean[]
const now = ref(OURS)
function start() {
  const Page = defineComponent(() => {
    found = useMove(7, now, (byBackOffice) => told.push(byBackOffice))
    return () => h('i')
  })
  show(Page)
}
beforeEach(() => {
  told = []
  now.value = OURS
})

describe('who may change places', () => {
  it('are those that one sees, in order of their days', () => {
    expect(movable(OURS).map((each) => each.line)).toEqual(['a', 'b'])
  })
  it('not one with itself', () => {
    start()
    found.giver.value = 'a'
    expect(found.takes.value.map((each) => each.line)).toEqual(['b'])
  })
})

describe('a move', () => {
  it('is asked for once both are chosen, and made as it was seen', async () => {
    const asked = serve((_, request) =>
      request.method === 'GET'
        ? { mark: 'm1', refused: '', rows: [row] }
        : { by_back_office: true },
    )
    start()
    found.giver.value = 'a'
    await shown()
    expect([asked, found.ready.value]).toEqual([[], false])
    found.taker.value = 'b'
    await shown()
    expect(asked).toEqual(['GET /api/items/7/move?depot_id=4&giver=a&taker=b'])
    expect(found.ready.value).toBe(true)
    await found.go()
    expect(told).toEqual([true])
    expect(asked).toContain('POST /api/items/7/move')
  })
  it('that is refused is not made', async () => {
    const asked = serve(() => ({ mark: 'm1', refused: 'A colleague’s.', rows: [row] }))
    start()
    found.giver.value = 'a'
    found.taker.value = 'b'
    await shown()
    await found.go()
    expect([asked.length, told]).toEqual([1, []])
  })
  it('that the house saw otherwise meanwhile is looked at again', async () => {
    let marks = 0
    const asked = serve((_, request) => {
      if (request.method === 'POST') return new Fault(409, 'stale', '', '')
      marks += 1
      return { mark: `m${marks}`, refused: '', rows: [row] }
    })
    start()
    found.giver.value = 'a'
    found.taker.value = 'b'
    await shown()
    await found.go()
    await shown()
    expect(told).toEqual([])
    expect(asked.filter((each) => each.startsWith('GET'))).toHaveLength(2)
    expect(found.found.value?.mark).toBe('m2')
  })
  it('of one who is not there any more is none', async () => {
    const asked = serve(() => ({ mark: 'm1', refused: '', rows: [] }))
    start()
    found.giver.value = 'a'
    found.taker.value = 'b'
    await shown()
    now.value = plan(rider('a', '2026-12-02'))
    await shown()
    expect(found.ready.value).toBe(false)
    await found.go()
    expect(asked.some((each) => each.startsWith('POST'))).toBe(false)
  })
})
