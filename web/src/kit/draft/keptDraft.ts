/**
 * Drafts in the browser: of one person, one document, one shape. What cannot be read is let go of;
 * what cannot be written is told. Each tab keeps its own, so that none overwrites another's: the newest is
 * taken up first, and one left behind when the next is opened.
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
  const before = `${BEFORE}:${person}:${document}:`
  const mine = before + crypto.randomUUID()
  /** The places whose draft this tab carries on. */
  const ours = new Set([mine])
  const places = () =>
    Array.from({ length: storage.length }, (_, n) => storage.key(n) ?? '').filter((place) =>
      place.startsWith(before),
    )
  const remove = (some: Iterable<string>) => {
    for (const place of some) storage.removeItem(place)
  }

  function read(place: string): (KeptDraft<S> & { at: number }) | null {
    try {
      const found = JSON.parse(storage.getItem(place) ?? 'null') as KeptDraft<S> & {
        shape?: number
        at: number
      }
      const whole = found && typeof found.version === 'number' && found.state !== undefined
      if (whole && found.shape === shape) return found
    } catch {
      // Half written: as good as none.
    }
    storage.removeItem(place)
    return null
  }
  return {
    get() {
      const found = places()
        .map((place) => ({ place, draft: read(place) }))
        .filter((each) => each.draft !== null)
        .sort((a, b) => (b.draft?.at ?? 0) - (a.draft?.at ?? 0))[0]
      if (!found) return null
      ours.add(found.place)
      return found.draft
    },
    put(draft) {
      try {
        storage.setItem(mine, JSON.stringify({ ...draft, shape, at: Date.now() }))
      } catch {
        return false
      }
      remove([...ours].filter((place) => place !== mine))
      return true
    },
    drop: () => remove(ours),
    clear: () => remove(places()),
  }
}
