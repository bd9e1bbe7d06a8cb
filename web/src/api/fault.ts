/** What was refused, or could not be asked: every failed request arrives as a `Fault`. */
import { t, type Facts } from '@/words'
import { worded, type Refusal } from '@/words/refusals'

export type { Refusal }

/**
 * A refusal. `message` is written for the person: the browser's words for the code, else the
 * server's own. `path` names the field; status 0 is a server that did not answer.
 */
export class Fault extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly path: string = '',
    readonly facts: Facts = {},
  ) {
    super(worded({ code, path, facts }) ?? message)
  }
  /** Whether it may pass by itself: nothing was answered, or the server was not well. */
  get passing(): boolean {
    return this.status === 0 || this.status >= 500
  }
}

/** The server did not answer. */
export function unanswered(): Fault {
  return new Fault(0, 'offline', t('kit.faults.offline'))
}

/** The fault in a refused answer. */
export function refusalOf(status: number, body: Refusal | null | undefined): Fault {
  return new Fault(
    status,
    body?.code ?? 'unsaid',
    body?.message ?? t('kit.faults.status', { status }),
    body?.path,
    body?.facts,
  )
}

/** Any error as a `Fault`. */
export function asFault(error: unknown): Fault {
  if (error instanceof Fault) return error
  return new Fault(-1, 'unsaid', error instanceof Error ? error.message : t('kit.wrong'))
}
