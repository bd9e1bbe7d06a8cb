/** Moves of deals on the Timetable: shown at once, in order for each deal, each taken back by itself. */
import { useQueryClient, type QueryKey } from '@tanstack/vue-query'
import { nextTick, shallowRef } from 'vue'
import { drawn } from '@/kit/act/drawn'
import { complain, say } from '@/kit/act/notices'
import { useSerial } from '@/kit/act/useSerial'
import { day } from '@/kit/format/format'
import { t } from '@/words'
import { dealKey, moveDeal, STALE_BY_A_DEAL, type DealRow, type SumsAsked } from './queries'

export interface Place {
  stage: string
  decision_on: string
}
interface Move {
  id: number
  from: Place
  to: Place
  back: boolean
}

/**
 * @param shown the key of the deals that the board shows
 * @param stageName how a stage is called
 * @param sums which sums are told along with a move
 */
export function useMoves(
  shown: () => QueryKey,
  stageName: (code: string) => string,
  sums: () => SumsAsked,
) {
  const client = useQueryClient()
  /** Moves that stand, the newest last. */
  const moves = shallowRef<Move[]>([])
  const rows = () => client.getQueryData<DealRow[]>(shown()) ?? []
  const rowOf = (id: number) => rows().find((row) => row.id === id)
  function put(id: number, change: Partial<DealRow>): void {
    client.setQueryData<DealRow[]>(shown(), (before) =>
      before?.map((row) => (row.id === id ? { ...row, ...change } : row)),
    )
  }
  function focus(id: number): void {
    // The chip is in its new place with the next drawing, and focused in the same frame.
    void nextTick(() => document.querySelector<HTMLElement>(`[data-deal="${id}"]`)?.focus())
  }

  const serial = useSerial<DealRow, Move>({
    record: (move) => `deal:${move.id}`,
    now: (move) => rowOf(move.id),
    show: (move) => {
      void client.cancelQueries({ queryKey: shown() })
      put(move.id, move.to)
      if (!move.back) moves.value = [...moves.value, move]
      focus(move.id)
      return () => {
        put(move.id, move.from)
        moves.value = moves.value.filter((each) => each !== move)
      }
    },
    send: async (move, version) => {
      const { sums: told, ...row } = await moveDeal(move.id, version, move.to, sums().query)
      if (told) {
        client.setQueryData(sums().key, told)
        await drawn()
      }
      return row
    },
    done: (deal, move, later) => {
      void client.invalidateQueries({ queryKey: dealKey(deal.id) })
      // A later move of the same deal, or one taken back, is shown and on its way: only the version
      // is taken over.
      put(deal.id, later ? { version: deal.version } : deal)
      if (move.back) say(t('board.takenBack'))
      else {
        const facts = { customer: deal.customer, stage: stageName(move.to.stage), day: day(move.to.decision_on) } // prettier-ignore
        say(t('board.moved', facts), () => takeBack(move))
      }
    },
    // The board shows the move already, and its sums came with the answer.
    stale: STALE_BY_A_DEAL.filter(([of]) => of !== 'timetable'),
    refused: (fault) => complain(fault),
  })

  function move(deal: DealRow, to: Partial<Place>): void {
    const from = { stage: deal.stage, decision_on: deal.decision_on }
    const target = { ...from, ...to }
    if (target.stage === from.stage && target.decision_on === from.decision_on) return
    serial.mutate({ id: deal.id, from, to: target, back: false })
  }
  /** Take one move back, by default the newest; a move that was taken back is not taken back twice. */
  function takeBack(which: Move | undefined = moves.value.at(-1)): boolean {
    if (!which || !moves.value.includes(which)) return false
    moves.value = moves.value.filter((each) => each !== which)
    serial.mutate({ id: which.id, from: which.to, to: which.from, back: true })
    return true
  }
  return { move, takeBack }
}
