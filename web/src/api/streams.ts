/** Long work, answered line by line: how far it is, then what came of it. */
import { Fault, token } from './client'

interface Line<T> {
  done?: number
  result?: T
  fault?: { code: string; message: string; path: string; facts: Record<string, unknown> }
}

/** Ask for long work, with a file or without; `step` hears how many are done. Throws a `Fault`. */
export async function work<T>(
  path: string,
  file: File | null,
  step: (done: number) => void = () => undefined,
): Promise<T> {
  const body = new FormData()
  if (file) body.append('file', file)
  const answer = await fetch(path, {
    method: 'POST',
    body,
    headers: { 'X-CSRFToken': token() },
  }).catch(() => {
    throw new Fault(0, 'offline', 'The server does not answer. Try again later.')
  })
  if (!answer.ok || !answer.body) {
    const refused = (await answer.json().catch(() => ({}))) as Partial<Fault>
    throw new Fault(
      answer.status,
      refused.code ?? 'unknown',
      refused.message ?? `The server answered ${answer.status}.`,
      refused.path,
    )
  }
  let result: T | undefined
  for await (const line of lines<T>(answer.body)) {
    if (line.fault) throw new Fault(422, line.fault.code, line.fault.message, line.fault.path)
    if (line.done !== undefined) step(line.done)
    if (line.result !== undefined) result = line.result
  }
  if (result === undefined) {
    throw new Fault(0, 'cut', 'The answer broke off; nothing is sure. Look before sending again.')
  }
  return result
}

async function* lines<T>(body: ReadableStream<Uint8Array>): AsyncGenerator<Line<T>> {
  const reader = body.getReader()
  const decoder = new TextDecoder()
  let rest = ''
  for (;;) {
    const { done, value } = await reader.read()
    if (done) return
    const parts = (rest + decoder.decode(value, { stream: true })).split('\n')
    rest = parts.pop() ?? ''
    for (const part of parts) if (part) yield JSON.parse(part) as Line<T>
  }
}
