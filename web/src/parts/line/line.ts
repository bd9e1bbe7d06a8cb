/** A line of a quote as it is typed. */
import type { Shapes } from '@/api/client'

export type Kind = 'normal' | 'alternative' | 'optional' | 'heading' | 'note'
export type DeskLine = Omit<Shapes['DeskLine'], 'kind'> & { kind: Kind }

/** A line of goods as it starts; a heading or a note has no item. */
export function newLine(item: Shapes['ItemOut'] | null, kind: Kind = 'normal'): DeskLine {
  return {
    key: crypto.randomUUID(),
    kind,
    alternative_to: '',
    item,
    text: item?.name ?? '',
    quantity: item
      ? item.sales_unit === item.base_unit
        ? (item.minimum_quantity ?? '1')
        : '1'
      : '',
    unit: item?.sales_unit ?? '',
    price: null,
    price_reason: '',
    discount_percent: null,
    discount_amount: null,
    depot_id: null,
    wanted_on: null,
  }
}

/** Whether a line is words alone: a heading or a note. */
export function wordsOnly(line: DeskLine): boolean {
  return line.kind === 'heading' || line.kind === 'note'
}
