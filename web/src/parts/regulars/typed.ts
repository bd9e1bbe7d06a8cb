/** The quantities typed down the sheet: as text, by item, whatever page or filter is shown. */
import { computed, type Ref } from 'vue'
import { readNumber } from '@/kit/format/readNumber'
import { t } from '@/words'
import type { Row, Typed } from './queries'

/** What was typed for an item, in which unit, and the item's code to tell it by. */
export interface TypedText {
  item: number
  text: string
  unit: string
  code: string
}
/** In the order in which they were typed. */
export type Texts = Record<string, TypedText>

/** The quantity that a text stands for; nothing for none, else why it cannot be read. */
export function quantityOf(text: string): { quantity: string } | { reason: string } | null {
  if (!text.trim()) return null
  const found = readNumber(text)
  if (found === null) return { reason: t('regulars.unread') }
  if ('doubt' in found) return { reason: t('regulars.doubt', { ways: found.doubt.join(' / ') }) }
  return Number(found.value) > 0 ? { quantity: found.value } : null
}

/** A name that keeps its place in a record, as a bare number does not. */
const nameOf = (row: Row) => `item-${row.item.id}`

/** @param depot where all of it leaves from; null the usual depot */
export function useTyped(texts: Ref<Texts>, depot: () => number | null = () => null) {
  /** Take in what was typed; "=" is the last quantity, or the least that can be ordered. */
  function type(row: Row, text: string): void {
    const meant = text.trim() === '=' ? (row.habit?.last_quantity ?? row.usual) : text
    const { id, code } = row.item
    const now = { ...texts.value }
    if (meant.trim()) now[nameOf(row)] = { item: id, text: meant, unit: row.unit, code }
    else delete now[nameOf(row)]
    texts.value = now
  }
  const textOf = (row: Row) => texts.value[nameOf(row)]?.text ?? ''
  const read = computed(() =>
    Object.values(texts.value).map((each) => ({ ...each, found: quantityOf(each.text) })),
  )
  const lines = computed<Typed[]>(() =>
    read.value.flatMap(({ item, unit, found }) =>
      found && 'quantity' in found
        ? [{ item_id: item, quantity: found.quantity, unit, depot_id: depot() }]
        : [],
    ),
  )
  /** Codes of the items whose text cannot be read. */
  const unread = computed(() =>
    read.value.filter(({ found }) => found && 'reason' in found).map(({ code }) => code),
  )
  return {
    type,
    lines,
    unread,
    textOf,
    reasonOf(row: Row): string {
      const found = quantityOf(textOf(row))
      return found && 'reason' in found ? found.reason : ''
    },
  }
}
