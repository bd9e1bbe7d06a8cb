/** What a draft store takes and gives. */
import type { ComputedRef, ShallowRef } from 'vue'
import type { Fault } from '@/api/fault'
import type { Kept } from './keptDraft'

export type Saving = 'saved' | 'typing' | 'saving' | 'offline' | 'clash' | 'refused'

/** A document as the server has it. `open` says whether it can still be changed. */
export interface Stored<S> {
  state: S
  version: number
  open: boolean
}

export interface DraftPlan<S, A extends { version: number }> {
  /** Save the whole state, made from a version. Throws a `Fault`; 409 `stale` is a clash. */
  save: (state: S, version: number) => Promise<A>
  /** The document as the server has it now. */
  read: () => Promise<Stored<S>>
  /** The server has the state numbered `of`; what it answered. */
  saved?: (answer: A, state: S, of: number) => void
  /** The state changed, to the one numbered `of`. */
  touched?: (of: number) => void
  /** Where the draft lies in the browser. */
  kept: Kept<S>
  pauseMs?: number
}

export interface DraftStore<S> {
  state: ShallowRef<S>
  saving: ComputedRef<Saving>
  fault: ShallowRef<Fault | null>
  /** Whether the document can be changed. */
  open: ShallowRef<boolean>
  /** Whether the last attempt to keep the draft in the browser failed. */
  unkept: ShallowRef<boolean>
  canUndo: ComputedRef<boolean>
  canRedo: ComputedRef<boolean>
  /** The number of the state that is shown. */
  now: () => number
  version: () => number
  change: (next: S, step?: string) => boolean
  undo: () => boolean
  redo: () => boolean
  /** Save what is typed, now; whether the server has all of it. */
  flush: () => Promise<boolean>
  /** Hear how the server has it; taken over unless something typed is on its way. */
  offer: (fresh: Stored<S>) => boolean
  /** After a clash: mine, on top of theirs. */
  saveMine: () => Promise<boolean>
  /** After a clash: theirs; mine can be had back with undo, while the document is open. */
  takeTheirs: () => Promise<void>
  /** The document is gone or done: nothing of it is kept or sent any more. */
  forget: () => void
  /** Keep what is typed in the browser, at once. */
  keep: () => void
  /** Its page is gone: what is typed is saved once more, and kept where that fails. */
  leave: () => Promise<boolean>
  /** Its page is back, before that was through. */
  stay: () => void
  /** What was typed into a document that somebody closed meanwhile; it can only be copied. */
  orphan: ShallowRef<S | null>
}
