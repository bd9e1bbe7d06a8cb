/** What the draft comes to as it is typed, without being stored; one question at a time. */
import { onScopeDispose } from 'vue'
import { send, type Shapes } from '@/api/client'

/**
 * @param body the draft as it stands now, and its number
 * @param heard an answer, and the number of the state that it is of
 */
export function useLivePrice(
  id: number,
  body: () => { of: number; typed: Shapes['AskIn'] },
  heard: (found: Shapes['QuickOut'], of: number) => void,
): { ask: () => void } {
  let asking = false
  let wanted = 0
  let over = false
  onScopeDispose(() => (over = true))

  async function go(): Promise<void> {
    asking = true
    const { of, typed } = body()
    wanted = of
    try {
      const found = await send<Shapes['QuickOut']>(`/api/revisions/${id}/price`, typed)
      if (!over) heard(found, of)
    } catch {
      // A refusal is left to the save to tell; a line that is down, too.
      return
    } finally {
      asking = false
    }
    if (!over && body().of > wanted) void go()
  }
  /** The draft changed: ask as soon as the question before is answered. */
  function ask(): void {
    if (!asking) void go()
  }
  return { ask }
}
