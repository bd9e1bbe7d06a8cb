/**
 * Fields that hold what could not be read: an act on the whole asks for them first, so that nothing
 * goes out with another value than the one that stands on the screen.
 */
import { inject, onScopeDispose, provide, type InjectionKey } from 'vue'

export interface Unread {
  label: string
  text: string
  focus: () => void
}
type Settle = () => Unread | null
const FIELDS: InjectionKey<Set<Settle>> = Symbol('fields')

/** For a page or a form: takes in what is typed in its fields; the first that cannot be, else null. */
export function useFields(): Settle {
  const fields = new Set<Settle>()
  provide(FIELDS, fields)
  return () => {
    const held = [...fields].map((settle) => settle()).filter((unread) => unread !== null)
    return held[0] ?? null
  }
}
/** For a field: it is asked together with its page. */
export function useAsked(settle: Settle): void {
  const fields = inject(FIELDS, null)
  fields?.add(settle)
  onScopeDispose(() => fields?.delete(settle))
}
