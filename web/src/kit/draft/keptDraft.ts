/**
 * Drafts in the browser: of one person, one document, one shape. What cannot be read is let go of;
 * what cannot be written is told. A draft that another tab keeps is not taken away.
 */

export interface KeptDraft<S> {
  /** The version that it was made from. */
  version: number
  state: S
  /** What was sent and not answered, where something was typed since. */
  pending?: S
}

export interface Kept<S> {
  get: () => KeptDraft<S> | null
  /** Whether it could be written. */
  put: (draft: KeptDraft<S>) => boolean
  /** Let go of what this tab keeps, or took up. */
  drop: () => void
  /** Let go of it, whoever keeps it: the document takes no more. */
  clear: () => void
}

const BEFORE = 'vivid-draft'

/**
 * @param person whose it is
 * @param document what it is a draft of, as `quote-12`
 * @param shape the number of the state's shape; drafts of another shape are not taken up
 */
export function keptDraft<S>(
  person: number,
  document: string,
  shape: number,
  storage: Storage = localStorage,
): Kept<S> {
  const key = `${BEFORE}:${person}:${document}`
  const mark: string = crypto.randomUUID()
  const ours = new Set([mark])

  function read(): (KeptDraft<S> & { shape?: number; by?: string }) | null {
    try {
      const found = JSON.parse(storage.getItem(key) ?? 'null') as KeptDraft<S> & {
        shape?: number
        by?: string
      }
      const whole = found && typeof found.version === 'number' && found.state !== undefined
      return whole && found.shape === shape ? found : null
    } catch {
      return null
    }
  }
  return {
    get() {
      const found = read()
      if (found?.by) ours.add(found.by)
      return found
    },
    put(draft) {
      try {
        storage.setItem(key, JSON.stringify({ ...draft, shape, by: mark }))
        return true
      } catch {
        return false
      }
    },
    drop() {
      const by = read()?.by
      if (by === undefined || ours.has(by)) storage.removeItem(key)
    },
    clear: () => storage.removeItem(key),
  }
}
