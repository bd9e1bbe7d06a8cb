/**
 * The quote desk without a screen, for the tests that drive it from outside: its state, its saving and
 * its acts as they ship, in a process that hears commands and tells what it asks the server. A command
 * a line, as JSON; after each, a line with what the desk shows and which requests wait for an answer.
 */
import { QueryClient, VUE_QUERY_CLIENT, useQuery } from '@tanstack/vue-query'
import { createInterface } from 'node:readline'
import { createApp, effectScope, computed, type EffectScope } from 'vue'
import { routerKey } from 'vue-router'
import type { Shapes } from '@/api/client'

interface Timer {
  at: number
  act: () => void
}
interface Waiting {
  method: string
  path: string
  body: unknown
  answer: (status: number, body: unknown) => void
  lose: () => void
}
const timers = new Map<number, Timer>()
const waiting = new Map<number, Waiting>()
let count = 0
let now = 0
const kept = new Map<string, string>()

/** The browser that the desk knows: a clock that stands, a store, a line that the tests hold. */
function browser(): void {
  const storage = {
    get length() {
      return kept.size
    },
    key: (n: number) => [...kept.keys()][n] ?? null,
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
    removeItem: (key: string) => void kept.delete(key),
  }
  Object.assign(globalThis, {
    localStorage: storage,
    document: { cookie: '' },
    window: Object.assign(new EventTarget(), { location: { origin: 'http://desk' } }),
    setTimeout: (act: () => void, pause = 0) => {
      timers.set((count += 1), { at: now + pause, act })
      return count
    },
    clearTimeout: (timer: number) => timers.delete(timer),
    fetch: async (asked: Request | string, init?: RequestInit) => {
      const request = new Request(asked instanceof Request ? asked : `http://desk${asked}`, init)
      const text = await request.text()
      return new Promise<Response>((resolve, reject) => {
        waiting.set((count += 1), {
          method: request.method,
          path: new URL(request.url).pathname + new URL(request.url).search,
          body: text ? JSON.parse(text) : null,
          answer: (status, body) =>
            resolve(new Response(status === 204 ? null : JSON.stringify(body), { status })),
          lose: () => reject(new TypeError('the line is down')),
        })
      })
    },
  })
  Date.now = () => now
}
/** Run all timers that are due within so long a time, in their order. */
function pass(pause: number): void {
  const end = now + pause
  for (;;) {
    const due = [...timers].filter(([, t]) => t.at <= end).sort((a, b) => a[1].at - b[1].at)[0]
    if (!due) break
    now = Math.max(now, due[1].at)
    timers.delete(due[0])
    due[1].act()
  }
  now = end
}
/** Until every promise that can go on has gone on. */
async function still(): Promise<void> {
  for (let n = 0; n < 25; n++) await new Promise<void>((go) => setImmediate(go))
}

browser()
const { useDesk } = await import('@/features/quotes/desk/useDesk')
const { useQuoteActs } = await import('@/features/quotes/desk/useQuoteActs')
const { revisionQuery, revisionKey } = await import('@/features/quotes/queries')
const { me } = await import('@/api/session')
const notices: string[] = []
;(globalThis as unknown as { notices: string[] }).notices = notices

type Desk = ReturnType<typeof useDesk>
let client = new QueryClient({ defaultOptions: { queries: { retry: false } } })
let scope: EffectScope | undefined
let desk: Desk | undefined
let acts: ReturnType<typeof useQuoteActs> | undefined

function open(quote: Shapes['QuoteOut']): void {
  client.setQueryData(revisionKey(quote.id), quote)
  const app = createApp({})
  app.provide(VUE_QUERY_CLIENT, client)
  app.provide(routerKey, { push: () => Promise.resolve() } as never)
  scope = effectScope(true)
  app.runWithContext(() =>
    scope?.run(() => {
      const { data, refetch } = useQuery({ ...revisionQuery(quote.id), enabled: false })
      const shown = computed(() => data.value ?? quote)
      const made = useDesk(shown)
      desk = made
      acts = useQuoteActs(shown, made, {
        ready: () => made.flush(),
        done: () => undefined,
        again: () => void refetch(),
        moved: () => undefined,
      })
    }),
  )
}
type Command =
  | { does: 'sign-in'; id: number }
  | { does: 'open'; quote: Shapes['QuoteOut'] }
  | { does: 'message'; text: string }
  | { does: 'quantity'; row: number; quantity: string }
  | { does: 'valid'; day: string }
  | { does: 'undo' | 'redo' | 'leave' | 'crash' | 'mine' | 'theirs' | 'issue' }
  | { does: 'pass'; ms: number }
  | { does: 'answer'; id: number; status: number; body: unknown }
  | { does: 'lose'; id: number }

function act(command: Command): void {
  switch (command.does) {
    case 'sign-in':
      me.value = { id: command.id } as Shapes['Me']
      break
    case 'open':
      open(command.quote)
      break
    case 'message':
      desk?.setFields({ message: command.text })
      break
    case 'quantity':
      desk?.setLines(
        desk.lines.value.map((line, n) =>
          n === command.row ? { ...line, quantity: command.quantity } : line,
        ),
      )
      break
    case 'valid':
      desk?.setFields({ valid_until: command.day })
      break
    case 'undo':
    case 'redo':
      desk?.[command.does]()
      break
    case 'leave':
      scope?.stop()
      desk = undefined
      break
    case 'crash':
      // The power is cut: nothing but what the browser keeps is left.
      timers.clear()
      waiting.clear()
      client = new QueryClient({ defaultOptions: { queries: { retry: false } } })
      process.exit(0)
      break
    case 'mine':
      void desk?.saveMine().catch(() => undefined)
      break
    case 'theirs':
      void desk?.takeTheirs().catch(() => undefined)
      break
    case 'issue':
      void acts?.issue('2199-01-01')
      break
    case 'pass':
      pass(command.ms)
      break
    case 'answer':
      waiting.get(command.id)?.answer(command.status, command.body)
      waiting.delete(command.id)
      break
    case 'lose':
      waiting.get(command.id)?.lose()
      waiting.delete(command.id)
  }
}
function view() {
  const asked = [...waiting].map(([id, { method, path, body }]) => ({ id, method, path, body }))
  if (!desk) return { open: false, waiting: asked, kept: Object.fromEntries(kept) }
  return {
    open: true,
    lines: desk.lines.value.map((line) => line.quantity),
    message: desk.fields.value.message,
    valid: desk.fields.value.valid_until,
    saving: desk.saving.value,
    canUndo: desk.canUndo.value,
    orphan: desk.orphan.value?.fields.message ?? null,
    seen: desk.seen(),
    fault: desk.fault.value?.code ?? '',
    notices: notices.splice(0),
    waiting: asked,
    kept: Object.fromEntries(kept),
  }
}
const kept0 = process.argv[2]
if (kept0) {
  for (const [k, v] of Object.entries(JSON.parse(kept0) as object)) kept.set(k, String(v))
  // The clock goes on where the page that was closed had it.
  for (const draft of kept.values())
    now = Math.max(now, (JSON.parse(draft) as { at: number }).at + 1)
}
for await (const text of createInterface({ input: process.stdin })) {
  act(JSON.parse(text) as Command)
  await still()
  process.stdout.write(`${JSON.stringify(view())}\n`)
}
