/**
 * What one person types into one document, and its way to the server. Nothing typed is lost, and
 * nothing is said to be saved that is not.
 *
 * One save is under way at a time; what is typed meanwhile goes with the next. A save whose answer
 * was lost is sent again as it was before anything newer goes, so that the server can tell by its
 * content that it has it already. Until the server has it, the draft also lies in the browser.
 *
 *     saved ⇄ typing → saving → saved
 *                        ├ offline   nothing answered: tried again, ever less often
 *                        ├ refused   the server cannot take it: waits for the next change
 *                        └ clash     somebody else changed it: waits for the person's choice
 */
import { computed, shallowRef } from 'vue'
import { asFault, type Fault } from '@/api/fault'
import { createHistory } from './history'
import type { KeptDraft } from './keptDraft'
import type { DraftPlan, DraftStore, Saving, Stored } from './types'

const PAUSE_MS = 350
const KEEP_MS = 150
/** Somebody who types without a pause is saved this often all the same. */
const LONGEST_MS = 3000
const RETRY_MS = [1000, 3000, 6000, 15_000, 30_000]

export function createDraft<S, A extends { version: number }>(
  start: Stored<S>,
  plan: DraftPlan<S, A>,
): DraftStore<S> {
  const state = shallowRef(start.state)
  const open = shallowRef(start.open)
  const fault = shallowRef<Fault | null>(null)
  const unkept = shallowRef(false)
  const orphan = shallowRef<S | null>(null)
  let version = start.version
  /** The numbers of the state shown, of the one the server has, and of the one it refused. */
  const now = shallowRef(0)
  const has = shallowRef(0)
  const refused = shallowRef(-1)
  const clash = shallowRef(false)
  const busy = shallowRef(false)
  const tries = shallowRef(0)
  /** Sent, and its fate unknown. */
  let pending: { state: S; of: number } | null = null
  let running: Promise<void> | null = null
  let gone = false
  let forgotten = false
  let typingSince = 0
  let saveTimer: ReturnType<typeof setTimeout> | undefined
  let keepTimer: ReturnType<typeof setTimeout> | undefined

  const dirty = computed(() => now.value !== has.value)
  const saving = computed<Saving>(() => {
    if (clash.value) return 'clash'
    if (!dirty.value) return 'saved'
    if (refused.value === now.value) return 'refused'
    if (tries.value) return 'offline'
    return busy.value ? 'saving' : 'typing'
  })

  // ---- what is typed ----------------------------------------------------------------------
  const history = createHistory(state)
  function change(next: S, step = ''): boolean {
    if (!open.value) return false
    history.note(step)
    put(next)
    return true
  }
  const undo = () => travel(history.back)
  const redo = () => travel(history.forth)
  function travel(to: () => S | undefined): boolean {
    const next = open.value ? to() : undefined
    if (next === undefined) return false
    put(next)
    return true
  }
  function put(next: S): void {
    state.value = next
    now.value += 1
    keepTimer ??= setTimeout(keep, KEEP_MS)
    typingSince ||= Date.now()
    const waited = Date.now() - typingSince
    if (!tries.value) later(Math.max(Math.min(plan.pauseMs ?? PAUSE_MS, LONGEST_MS - waited), 0))
    plan.touched?.(now.value)
  }

  // ---- its way to the server ----------------------------------------------------------------
  function later(pause: number): void {
    clearTimeout(saveTimer)
    if (!gone) saveTimer = setTimeout(() => void run(), pause)
  }
  /** Save until the server has everything, or cannot; whoever waits, waits for the same. */
  function run(): Promise<void> {
    clearTimeout(saveTimer)
    running ??= work().finally(() => (running = null))
    return running
  }
  async function work(): Promise<void> {
    while ((dirty.value || pending) && open.value && !clash.value && refused.value !== now.value) {
      if (!(await attempt())) return
    }
  }
  /** One save; false where it makes no sense to go on at once. */
  async function attempt(): Promise<boolean> {
    const sent = (pending ??= { state: state.value, of: now.value })
    busy.value = true
    typingSince = 0
    try {
      const answer = await plan.save(sent.state, version)
      if (forgotten) return false
      pending = null
      version = answer.version
      has.value = sent.of
      tries.value = 0
      fault.value = null
      refused.value = -1
      if (dirty.value) keep()
      else drop()
      plan.saved?.(answer, sent.state, sent.of)
      return true
    } catch (error) {
      return stumble(asFault(error), sent)
    } finally {
      busy.value = false
    }
  }
  function stumble(problem: Fault, sent: { state: S; of: number }): boolean {
    if (forgotten) return false
    fault.value = problem
    if (problem.passing) {
      keep()
      later(RETRY_MS[Math.min(tries.value, RETRY_MS.length - 1)] ?? 0)
      tries.value += 1
      return false
    }
    tries.value = 0
    pending = null
    keep()
    if (problem.status === 409) clash.value = true
    else refused.value = sent.of
    return !clash.value
  }
  async function flush(): Promise<boolean> {
    if (!running) refused.value = -1
    await run()
    return !dirty.value && !pending && !clash.value
  }

  // ---- how the server has it ----------------------------------------------------------------
  function offer(fresh: Stored<S>): boolean {
    if (dirty.value || pending || clash.value || busy.value) return false
    if (fresh.version < version) return false
    if (fresh.version === version && fresh.open === open.value) return false
    adopt(fresh)
    return true
  }
  function adopt(fresh: Stored<S>): void {
    clearTimeout(saveTimer)
    version = fresh.version
    open.value = fresh.open
    state.value = fresh.state
    now.value += 1
    has.value = now.value
    pending = null
    clash.value = false
    refused.value = -1
    tries.value = 0
    fault.value = null
    history.landed(fresh.open)
  }
  async function saveMine(): Promise<boolean> {
    const theirs = await plan.read()
    if (!theirs.open) return false
    version = theirs.version
    clash.value = false
    if (!dirty.value) has.value = -1
    return flush()
  }
  async function takeTheirs(): Promise<void> {
    const theirs = await plan.read()
    const mine = state.value
    adopt(theirs)
    drop()
    if (theirs.open) history.before(mine)
    else orphan.value = mine
    plan.touched?.(now.value)
  }

  // ---- in the browser -----------------------------------------------------------------------
  function keep(): void {
    settle()
    if (!dirty.value && !pending) return
    const draft: KeptDraft<S> = { version, state: state.value }
    if (pending && pending.state !== state.value) draft.pending = pending.state
    unkept.value = !plan.kept.put(draft)
  }
  function settle(): void {
    clearTimeout(keepTimer)
    keepTimer = undefined
  }
  function drop(): void {
    settle()
    plan.kept.drop()
    unkept.value = false
  }
  function forget(): void {
    clearTimeout(saveTimer)
    settle()
    plan.kept.clear()
    gone = forgotten = true
    open.value = false
    history.landed(false)
    pending = null
    has.value = now.value
  }
  function leave(): Promise<boolean> {
    gone = true
    keep()
    return flush()
  }
  function stay(): void {
    gone = false
    if (dirty.value || pending) later(0)
  }

  // What this person typed before and the server may not have: as it was, from the version it was
  // made from; the server tells whether it has it, or whether somebody changed it since.
  const left = start.open ? plan.kept.get() : null
  if (left) {
    version = left.version
    history.before(start.state)
    if (left.pending) pending = { state: left.pending, of: (now.value += 1) }
    state.value = left.state
    now.value += 1
    later(plan.pauseMs ?? PAUSE_MS)
  } else if (!start.open) plan.kept.clear()

  const canUndo = computed(() => open.value && history.canBack.value)
  const canRedo = computed(() => open.value && history.canForth.value)
  const shown = { state, saving, fault, open, unkept, orphan, canUndo, canRedo }
  const asked = { now: () => now.value, version: () => version }
  const acts = { change, undo, redo, flush, offer, saveMine, takeTheirs, forget, keep, leave, stay }
  return { ...shown, ...asked, ...acts }
}
