import { QueryClient, VUE_QUERY_CLIENT, QueryObserver } from '@tanstack/vue-query'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { createApp, effectScope, type EffectScope } from 'vue'
import { Fault } from '@/api/fault'
import { useMoves } from './useMoves'
import type { DealRow } from './queries'

vi.mock('@/kit/act/notices', () => ({
  say: (words: string, undo?: () => void) => told.push({ words, undo }),
  complain: (problem: unknown) => told.push({ words: (problem as Error).message }),
}))
const told: { words: string; undo?: (() => void) | undefined }[] = []
const SHOWN = ['timetable', 'all']
const SUMS = ['timetable', 'sums']
/** The deals as the server has them. */
let server: Record<number, DealRow>
let sent: { id: number; version: number; decision_on: string }[]
let gates: ((fault?: Fault) => void)[]
let client: QueryClient
let scope: EffectScope
let moves: ReturnType<typeof useMoves>

const deal = (id: number) =>
  ({ id, version: 1, stage: 'scoped', decision_on: '2026-12-01', customer: `C${id}` }) as DealRow
const shown = (id: number) =>
  client.getQueryData<DealRow[]>(SHOWN)?.find((row) => row.id === id)?.decision_on
/** Long enough for a frame, which a move waits for before it is told. */
const settle = () => vi.advanceTimersByTimeAsync(70)
async function answer(fault?: Fault): Promise<void> {
  await settle()
  gates.shift()?.(fault)
  await settle()
}
vi.mock('./queries', async (original) => ({
  ...(await original<object>()),
  moveDeal: async (id: number, version: number, to: { decision_on: string }) => {
    sent.push({ id, version, ...to })
    const fault = await new Promise<Fault | undefined>((go) => gates.push(go))
    if (fault) throw fault
    if (server[id]!.version !== version) throw new Fault(409, 'changed_meanwhile', 'Changed.')
    server[id] = { ...server[id]!, ...to, version: version + 1 }
    return { ...server[id], sums: { moves: sent.length } }
  },
}))
beforeEach(() => {
  vi.useFakeTimers()
  told.length = 0
  server = { 1: deal(1), 2: deal(2) }
  sent = []
  gates = []
  client = new QueryClient()
  const read = () => Promise.resolve(Object.values(server).map((row) => ({ ...row })))
  // A board that is open: what went stale is read afresh at once.
  new QueryObserver(client, { queryKey: SHOWN, queryFn: read }).subscribe(() => undefined)
  client.setQueryData(SHOWN, Object.values(server))
  const app = createApp({})
  app.provide(VUE_QUERY_CLIENT, client)
  scope = effectScope()
  moves = app.runWithContext(() =>
    scope.run(() =>
      useMoves(
        () => SHOWN,
        (code) => code,
        () => ({ key: SUMS, query: { starts: [] } as never }),
      ),
    ),
  )!
})
afterEach(() => {
  scope.stop()
  client.clear()
})
const shift = (id: number, decision_on: string) =>
  moves.move(
    client.getQueryData<DealRow[]>(SHOWN)!.find((row) => row.id === id)!,
    { decision_on },
  )

describe('moves on the Timetable', () => {
  it('of one deal never clash with oneself, and never jump back in between', async () => {
    shift(1, '2026-12-08')
    shift(1, '2026-12-15')
    expect(shown(1)).toBe('2026-12-15')
    await answer()
    expect(shown(1)).toBe('2026-12-15')
    await answer()
    expect(sent.map((each) => each.version)).toEqual([1, 2])
    expect([shown(1), server[1]!.decision_on]).toEqual(['2026-12-15', '2026-12-15'])
  })
  it('that are refused go back to where they were, and say so', async () => {
    shift(1, '2026-11-01')
    await answer(new Fault(422, 'date_gone_by', ''))
    expect([shown(1), told.at(-1)?.words]).toEqual(['2026-12-01', 'The day lies in the past.'])
    expect(moves.takeBack()).toBe(false)
  })
  it('are taken back by the newest first, and the undo of an older one takes back that one', async () => {
    shift(1, '2026-12-08')
    await answer()
    shift(2, '2026-12-22')
    await answer()
    told[0]?.undo?.()
    await answer()
    expect([server[1]!.decision_on, server[2]!.decision_on]).toEqual(['2026-12-01', '2026-12-22'])
    expect(moves.takeBack()).toBe(true)
    await answer()
    expect(server[2]!.decision_on).toBe('2026-12-01')
    expect(moves.takeBack()).toBe(false)
  })
  it('that are taken back while all are on their way show where they will stand, at every answer', async () => {
    shift(1, '2026-12-08')
    shift(1, '2026-12-15')
    expect([moves.takeBack(), moves.takeBack()]).toEqual([true, true])
    for (let left = 4; left > 0; left--) {
      expect(shown(1)).toBe('2026-12-01')
      await answer()
    }
    expect([shown(1), server[1]!.decision_on]).toEqual(['2026-12-01', '2026-12-01'])
    expect(sent.map((each) => each.version)).toEqual([1, 2, 3, 4])
  })
  it('to where a deal stands already send nothing', async () => {
    shift(1, '2026-12-01')
    await settle()
    expect(sent).toEqual([])
  })
})
