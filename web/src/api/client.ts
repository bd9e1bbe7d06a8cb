/** The API, typed by its own document. Every refusal arrives as a `Fault`. */
import createClient, { type Middleware } from 'openapi-fetch'
import { refusalOf, unanswered, type Refusal } from './fault'
import type { components, paths } from './schema'

export { Fault } from './fault'
export type Shapes = components['schemas']

function cookie(name: string): string {
  return new RegExp(`(?:^|; )(?:__Host-)?${name}=([^;]*)`).exec(document.cookie)?.[1] ?? ''
}

/** The token that every write carries. */
export function token(): string {
  return cookie('vivid_csrf')
}

let onSignedOut: () => void = () => undefined
let onBuild: (build: string) => void = () => undefined

/** What to do when a session has ended. */
export function whenSignedOut(act: () => void): void {
  onSignedOut = act
}
/** What to do with the mark of the build that the server serves; every answer has it. */
export function whenBuild(act: (build: string) => void): void {
  onBuild = act
}

/** Look at an answer before anybody else does. */
export function heard(answer: Response): void {
  const build = answer.headers.get('X-Vivid-Build')
  if (build) onBuild(build)
  if (answer.status === 401) onSignedOut()
}

const IDLE_AFTER_MS = 600_000
let touched = Date.now()
/** Note that somebody is there: questions that a page asks by itself keep no visit open. */
export function touch(): void {
  touched = Date.now()
}

/** Keys of requests that were sent and not answered yet, by what they ask. */
const unheard = new Map<string, string>()
/** Whether a request may make something; what is typed to sign in is remembered nowhere. */
function makes({ method, headers, url }: Request): boolean {
  const json = headers.get('Content-Type')?.includes('json')
  return method === 'POST' && !!json && !new URL(url).pathname.startsWith('/api/session')
}
/** The key of what is asked: the same until an answer was heard, however often somebody presses. */
async function keyOf(request: Request): Promise<string> {
  const asked = `${request.url} ${await request.clone().text()}`
  const key = unheard.get(asked) ?? crypto.randomUUID()
  unheard.set(asked, key)
  return key
}
function answered(request: Request): void {
  const key = request.headers.get('Idempotency-Key')
  for (const [asked, its] of unheard) if (its === key) unheard.delete(asked)
}

const manners: Middleware = {
  async onRequest({ request }) {
    if (Date.now() - touched > IDLE_AFTER_MS) request.headers.set('X-Vivid-Idle', '1')
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', token())
    if (makes(request)) {
      request.headers.set('Idempotency-Key', await keyOf(request))
    }
    return request
  },
  onResponse({ request, response }) {
    heard(response)
    if (response.status < 500) answered(request)
  },
}

export const api = createClient<paths>({
  baseUrl: window.location.origin,
  fetch: (request) => globalThis.fetch(request),
})
api.use(manners)

/**
 * Send JSON within this very task, before the screen is drawn anew: the typed client hands over a few
 * microtasks later, which costs 10 ms a key where hundreds of rows are drawn in between.
 */
export async function send<T>(path: string, body: unknown, signal?: AbortSignal): Promise<T> {
  const answer = await fetch(path, {
    method: 'POST',
    body: JSON.stringify(body),
    headers: { 'Content-Type': 'application/json', 'X-CSRFToken': token() },
    signal,
  }).catch(() => {
    throw unanswered()
  })
  heard(answer)
  if (!answer.ok) {
    throw refusalOf(answer.status, (await answer.json().catch(() => null)) as Refusal | null)
  }
  return (await answer.json()) as T
}

type Answer<T> = { data?: T; error?: unknown; response: Response }

/** The answer's data; throws a `Fault` for a refusal or a server that does not answer. */
export async function take<T>(asked: Promise<Answer<T>>): Promise<T> {
  const answer = await asked.catch(() => {
    throw unanswered()
  })
  if (answer.response.ok) return answer.data as T
  throw refusalOf(answer.response.status, answer.error as Refusal | null)
}
