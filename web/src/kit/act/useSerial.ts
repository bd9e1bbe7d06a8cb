/**
 * Changes of one record, in order: each goes when the one before was answered, with the version that
 * it answered. Two quick keys never clash with oneself. A change shows at once and is taken back where
 * the server refuses it.
 */
import { onlineManager, useMutation, useQueryClient, type QueryKey } from '@tanstack/vue-query'
import { asFault, type Fault } from '@/api/fault'
import { complain } from './notices'

interface Versioned {
  version: number
}

export interface SerialPlan<Row extends Versioned, Change> {
  /** The record, as `deal:12`: its changes stand in one queue. */
  record: (change: Change) => string
  /** The record as it is now, with its version. */
  now: (change: Change) => Row | undefined
  /** Show a change before it is saved; what takes it back. */
  show?: (change: Change) => () => void
  send: (change: Change, version: number) => Promise<Row>
  /** The server's answer, put where it is shown; `later`: newer changes of it are shown and wait. */
  done: (row: Row, change: Change, later: boolean) => void
  /** What else went stale; never what is under way. */
  stale?: QueryKey[]
  refused?: (fault: Fault, change: Change) => void
}

/** Under this key all changes in order stand together. */
const SERIAL = ['serial'] as const
const tails = new Map<string, Promise<unknown>>()
const versions = new Map<string, number>()
/** How many changes of a record have no answer yet. */
const waiting = new Map<string, number>()
function count(record: string, by: 1 | -1): number {
  const now = (waiting.get(record) ?? 0) + by
  if (now) waiting.set(record, now)
  else waiting.delete(record)
  return now
}

/** After all that is under way for a record. */
function inOrder<T>(record: string, what: () => Promise<T>): Promise<T> {
  const before = tails.get(record)
  // Nothing to wait for: at once, not a microtask later.
  const mine = before ? before.catch(() => undefined).then(what) : what()
  const tail = mine
    .catch(() => undefined)
    .finally(() => {
      if (tails.get(record) !== tail) return
      tails.delete(record)
      versions.delete(record)
    })
  tails.set(record, tail)
  return mine
}

export function useSerial<Row extends Versioned, Change extends object>(
  plan: SerialPlan<Row, Change>,
) {
  const client = useQueryClient()
  /** What went out before it was shown: the server works while the screen is drawn. */
  const early = new WeakMap<Change, Promise<Row>>()
  function send(change: Change): Promise<Row> {
    const record = plan.record(change)
    return inOrder(record, async () => {
      const version = versions.get(record) ?? plan.now(change)?.version ?? 0
      const row = await plan.send(change, version)
      versions.set(record, row.version)
      return row
    })
  }
  const mutation = useMutation<Row, Error, Change, (() => void) | undefined>({
    mutationKey: SERIAL,
    mutationFn: (change) => early.get(change) ?? send(change),
    onMutate: (change) => {
      count(plan.record(change), 1)
      if (onlineManager.isOnline()) {
        const under = send(change)
        under.catch(() => undefined)
        early.set(change, under)
      }
      return plan.show?.(change)
    },
    onSuccess: (row, change) => {
      plan.done(row, change, count(plan.record(change), -1) > 0)
    },
    onError: (error, change, back) => {
      count(plan.record(change), -1)
      back?.()
      const fault = asFault(error)
      if (plan.refused) plan.refused(fault, change)
      else complain(fault)
    },
    onSettled: () => {
      // While others wait, what would be read afresh does not know them yet: the last one asks.
      if (client.isMutating({ mutationKey: SERIAL }) > 1) return
      for (const queryKey of plan.stale ?? []) void client.invalidateQueries({ queryKey })
    },
  })
  return mutation
}
