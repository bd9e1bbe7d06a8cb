import { onlineManager, QueryClient, VUE_QUERY_CLIENT } from '@tanstack/vue-query'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { createApp, effectScope } from 'vue'
import { Fault } from '@/api/fault'
import { useSerial } from './useSerial'

interface Row {
  id: number
  version: number
  day: number
}
let rows: Record<number, Row>
let sent: [number, number, number][]
let gates: (() => void)[]
let refuse: ((change: { id: number; day: number }) => Fault | null) | undefined
const complained: string[] = []
const clients: QueryClient[] = []
/** The days on the screen as each change was sent. */
const shownAtSending: number[] = []

function deals() {
  const client = new QueryClient()
  client.mount()
  clients.push(client)
  const app = createApp({})
  app.provide(VUE_QUERY_CLIENT, client)
  return app.runWithContext(() =>
    effectScope(true).run(() =>
      useSerial<Row, { id: number; day: number }>({
        record: (change) => `deal:${change.id}`,
        now: (change) => rows[change.id],
        show: (change) => {
          const before = rows[change.id]!.day
          rows[change.id]!.day = change.day
          return () => (rows[change.id]!.day = before)
        },
        send: async (change, version) => {
          sent.push([change.id, change.day, version])
          shownAtSending.push(rows[change.id]!.day)
          await new Promise<void>((go) => gates.push(go))
          const fault = refuse?.(change)
          if (fault) throw fault
          return { id: change.id, day: change.day, version: version + 1 }
        },
        done: (row) => (rows[row.id]!.version = row.version),
        refused: (fault) => complained.push(fault.code),
      }),
    )!,
  )
}
const settle = async () => {
  for (let n = 0; n < 12; n++) await Promise.resolve()
  await vi.waitFor(() => undefined)
}
async function answer(): Promise<void> {
  await settle()
  gates.shift()?.()
  await settle()
}
beforeEach(() => {
  rows = { 1: { id: 1, version: 4, day: 0 }, 2: { id: 2, version: 9, day: 0 } }
  sent = []
  gates = []
  refuse = undefined
  complained.length = 0
})

afterEach(() => {
  onlineManager.setOnline(true)
  clients.splice(0).forEach((client) => client.unmount())
})

describe('changes of one record', () => {
  it('go one after the other, each from the version that the one before answered', async () => {
    const serial = deals()
    serial.mutate({ id: 1, day: 7 })
    serial.mutate({ id: 1, day: 14 })
    await settle()
    expect([sent, rows[1]!.day]).toEqual([[[1, 7, 4]], 14])
    await answer()
    expect(sent).toEqual([
      [1, 7, 4],
      [1, 14, 5],
    ])
    await answer()
    expect([rows[1]!.version, rows[1]!.day, complained]).toEqual([6, 14, []])
  })
  it('go out before they are shown, in the same turn: the server works while the screen is drawn', async () => {
    const serial = deals()
    shownAtSending.length = 0
    serial.mutate({ id: 1, day: 7 })
    await settle()
    expect([shownAtSending, rows[1]!.day, sent.length]).toEqual([[0], 7, 1])
    await answer()
  })
  it('wait while there is no line, shown already, and go out once it is back', async () => {
    const serial = deals()
    onlineManager.setOnline(false)
    serial.mutate({ id: 1, day: 7 })
    await settle()
    expect([sent, rows[1]!.day]).toEqual([[], 7])
    onlineManager.setOnline(true)
    await vi.waitFor(() => expect(sent).toEqual([[1, 7, 4]]))
    await answer()
    expect([rows[1]!.version, complained]).toEqual([5, []])
  })
  it('do not wait for those of another record', async () => {
    const serial = deals()
    serial.mutate({ id: 1, day: 7 })
    serial.mutate({ id: 2, day: 7 })
    await settle()
    expect(sent).toEqual([
      [1, 7, 4],
      [2, 7, 9],
    ])
    await answer()
    await answer()
  })
  it('are taken back where they are refused, and said so', async () => {
    refuse = () => new Fault(422, 'date_gone_by', 'Past.')
    const serial = deals()
    serial.mutate({ id: 1, day: 7 })
    await settle()
    expect(rows[1]!.day).toBe(7)
    await answer()
    expect([rows[1]!.day, complained]).toEqual([0, ['date_gone_by']])
  })
  it('go on after one that was refused', async () => {
    refuse = ({ day }) => (day === 7 ? new Fault(422, 'date_gone_by', 'Past.') : null)
    const serial = deals()
    serial.mutate({ id: 1, day: 7 })
    serial.mutate({ id: 1, day: 14 })
    await answer()
    await answer()
    expect([sent.at(-1), rows[1]!.version]).toEqual([[1, 14, 4], 5])
  })
})
