/** The API, typed by its own document. Every refusal arrives as a `Fault`. */
import createClient, { type Middleware } from 'openapi-fetch'
import type { components, paths } from './schema'

export type Shapes = components['schemas']

/** What the server refused: `message` is written for the person, `path` names the field. */
export class Fault extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly path: string = '',
    readonly facts: Record<string, unknown> = {},
  ) {
    super(message)
  }
}

function cookie(name: string): string {
  return new RegExp(`(?:^|; )${name}=([^;]*)`).exec(document.cookie)?.[1] ?? ''
}

/** The token that every write carries. */
export function token(): string {
  return cookie('vivid_csrf')
}

const withToken: Middleware = {
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', token())
    return request
  },
}

export const api = createClient<paths>({
  baseUrl: window.location.origin,
  fetch: (request) => globalThis.fetch(request),
})
api.use(withToken)

/**
 * Send JSON within this very task, before the screen is drawn anew: the typed client hands over a few
 * microtasks later, which costs 10 ms a key where hundreds of rows are drawn in between.
 */
export async function send<T>(path: string, body: unknown): Promise<T> {
  const answer = await fetch(path, {
    method: 'POST',
    body: JSON.stringify(body),
    headers: { 'Content-Type': 'application/json', 'X-CSRFToken': token() },
  })
  if (!answer.ok) throw new Fault(answer.status, 'refused', `The server answered ${answer.status}.`)
  return (await answer.json()) as T
}

type Answer<T> = { data?: T; error?: unknown; response: Response }
let onSignedOut: () => void = () => undefined

/** What to do when a session has ended. */
export function whenSignedOut(act: () => void): void {
  onSignedOut = act
}

/** The answer's data; throws a `Fault` for a refusal or a server that does not answer. */
export async function take<T>(asked: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await asked
  } catch {
    throw new Fault(0, 'offline', 'The server does not answer. What you typed is kept here.')
  }
  if (answer.response.ok) return answer.data as T
  const body = answer.error as {
    code?: string
    message?: string
    path?: string
    facts?: Record<string, unknown>
  } | null
  if (answer.response.status === 401) onSignedOut()
  throw new Fault(
    answer.response.status,
    body?.code ?? 'unknown',
    body?.message ?? `The server answered ${answer.response.status}.`,
    body?.path,
    body?.facts,
  )
}
