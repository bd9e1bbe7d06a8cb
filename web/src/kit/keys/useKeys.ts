/**
 * The keys of a place: they act, and the sheet of keys shows them, from one list.
 *
 * A stroke is written as on the sheet: `Ctrl K`, `Alt ↓`, `?`, `Ctrl Shift ↑`. Letters with Alt go by
 * the key's place on the keyboard, so that they work where Alt makes another letter of it.
 */
import { useEventListener } from '@vueuse/core'
import { computed, onScopeDispose, shallowReactive, toValue, type MaybeRefOrGetter } from 'vue'

export interface KeyAct {
  /** The strokes as shown; the first of them acts. */
  keys: string
  does: string
  /** None for keys that a part of the page hears itself. */
  act?: (event: KeyboardEvent) => void
  /** Acts while somebody types in a field, too. */
  whileTyping?: boolean
}
export interface KeyPlace {
  title: string
  keys: KeyAct[]
}

const places = shallowReactive(new Map<symbol, MaybeRefOrGetter<KeyPlace>>())
/** The places whose keys hold now, for the sheet of keys. */
export const keyPlaces = computed(() => [...places.values()].map((place) => toValue(place)))

const SIGNS: Record<string, string> = {
  '↑': 'ArrowUp',
  '↓': 'ArrowDown',
  '←': 'ArrowLeft',
  '→': 'ArrowRight',
  Esc: 'Escape',
  Del: 'Delete',
}

/** Whether an event is a stroke as written. */
export function isStroke(event: KeyboardEvent, stroke: string): boolean {
  const parts = stroke.split(' ')
  const key = parts.pop() ?? ''
  const wanted = { Ctrl: false, Shift: false, Alt: false, ...Object.fromEntries(parts.map((p) => [p, true])) } // prettier-ignore
  if (wanted.Ctrl !== (event.ctrlKey || event.metaKey) || wanted.Alt !== event.altKey) return false
  const name = SIGNS[key] ?? key
  // A sign may need Shift by itself, as `?` does.
  if (/^[^\p{L}]$/u.test(name)) return event.key === name
  if (wanted.Shift !== event.shiftKey) return false
  return wanted.Alt && /^[A-Z]$/.test(name)
    ? event.code === `Key${name}`
    : event.key.toLowerCase() === name.toLowerCase()
}

/** Whether somebody types into what an event comes from. */
export function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (/^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) || target.isContentEditable)
  )
}

/** What a stroke does in a place. */
function actOf(place: KeyPlace, event: KeyboardEvent, first: boolean): KeyAct | undefined {
  if (!first && isTyping(event.target)) return undefined
  return place.keys.find(
    (each) =>
      each.act &&
      !!each.whileTyping === first &&
      each.keys.split(/ or |, /).some((stroke) => isStroke(event, stroke)),
  )
}

/**
 * Hear the keys of a place while it is there, and show them on the sheet of keys. Of two places with one
 * stroke it acts in the one that came last, as a panel over a page.
 */
export function useKeys(place: MaybeRefOrGetter<KeyPlace>): void {
  const mark = Symbol('keys')
  places.set(mark, place)
  onScopeDispose(() => places.delete(mark))
  function hear(event: KeyboardEvent, first: boolean): void {
    if (event.defaultPrevented || event.isComposing) return
    const last = [...places].reverse().find(([, each]) => actOf(toValue(each), event, first))
    if (last?.[0] !== mark) return
    const found = actOf(toValue(place), event, first)
    if (!found) return
    event.preventDefault()
    if (first) event.stopPropagation()
    found.act?.(event)
  }
  // Those that hold in a field too go before the field, which may know the key as well: Enter opens
  // a list of choices.
  useEventListener(window, 'keydown', (event) => hear(event, true), { capture: true })
  useEventListener(window, 'keydown', (event) => hear(event, false))
}
