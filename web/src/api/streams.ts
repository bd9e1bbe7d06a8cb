/** Long work, answered line by line: how far it is, then what came of it. */
import { t } from '@/words'
import { heard, token } from './client'
import { Fault, refusalOf, unanswered, type Refusal } from './fault'

interface Line<T> {
  done?: number
  result?: T
  fault?: Refusal
}

/**
 * Ask for long work, with a file or without; `step` hears how many are done. Throws a `Fault`: the
 * server's own, `offline` where it does not answer, `cut` where the answer broke off.
 */
export async function work<T>(
  path: string,
  file: File | null,
  step: (done: number) => void = () => undefined,
  signal?: AbortSignal,
): Promise<T> {
  const body = new FormData()
  if (file) body.append('file', file)
  const answer = await fetch(path, {
    method: 'POST',
    body,
    headers: { 'X-CSRFToken': token() },
    signal,
  }).catch(() => {
    throw unanswered()
  })
  heard(answer)
  if (!answer.ok || !answer.body) {
    throw refusalOf(answer.status, (await answer.json().catch(() => null)) as Refusal | null)
  }
  for await (const line of lines<T>(answer.body)) {
    if (line.fault) throw refusalOf(422, line.fault)
    if (line.done !== undefined) step(line.done)
    if (line.result !== undefined) return line.result
  }
  throw cut()
}

function cut(): Fault {
  return new Fault(0, 'cut', t('kit.faults.cut'))
}

/** The lines of a body as they come; the reader is let go of however it ends. */
async function* lines<T>(body: ReadableStream<Uint8Array>): AsyncGenerator<Line<T>> {
  const reader = body.getReader()
  const decoder = new TextDecoder()
  let rest = ''
  try {
    for (;;) {
      const { done, value } = await reader.read().catch(() => {
        throw cut()
      })
      rest += decoder.decode(value, { stream: !done })
      const parts = rest.split('\n')
      rest = done ? '' : (parts.pop() ?? '')
      for (const part of parts) if (part.trim()) yield JSON.parse(part) as Line<T>
      if (done) return
    }
  } finally {
    await reader.cancel().catch(() => undefined)
  }
}
