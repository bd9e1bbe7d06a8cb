/** How the cells of the line grid are read: at once for a quantity, else when the cell is left. */
import { type DeskLine } from '@/parts/line/line'
import { readQuantity } from '@/parts/line/numbers'
import type { CellRules } from '@/kit/grid/useCellEditor'
import { t } from '@/words'
import { cellText, FRESH, QUANTITY, readCell, type LineFacts } from './cells'

export function useLineRules(given: {
  lineOf: (key: string) => DeskLine | undefined
  facts: (key: string) => LineFacts
  editable: () => boolean
  put: (key: string, change: Partial<DeskLine>, step: string) => void
}): CellRules {
  /** The quantity before the editor opened: it shows at once what is typed, and comes back. */
  let before = { session: '', quantity: '' }

  function quantity(key: string, to: string, session: string): void {
    if (given.lineOf(key)?.quantity !== to) given.put(key, { quantity: to }, session)
  }
  return {
    textOf({ key, col }) {
      if (!given.editable()) return undefined
      if (key === FRESH) return ''
      const line = given.lineOf(key)
      return line && cellText(line, col, given.facts(key))
    },
    typed({ key, col }, text, session) {
      const line = given.lineOf(key)
      if (!line || col !== QUANTITY) return
      if (before.session !== session) before = { session, quantity: line.quantity }
      const got = readQuantity(text)
      quantity(key, 'value' in got ? got.value : before.quantity, session)
    },
    take({ key, col }, text, session) {
      if (key === FRESH) return text.trim() ? t('desk.items.choose') : null
      const line = given.lineOf(key)
      if (!line) return null
      const got = readCell(line, col, text, given.facts(key))
      if ('reason' in got) return got.reason
      if (Object.keys(got.change).length) given.put(key, got.change, session)
      return null
    },
    left({ key, col }, session) {
      if (col === QUANTITY && before.session === session) quantity(key, before.quantity, session)
    },
  }
}
