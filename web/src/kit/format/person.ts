/** How a person reads and writes numbers and days: chosen in their menu, the house's way otherwise. */
import { computed, ref } from 'vue'

export interface Format {
  group: string
  decimal: string
  /** The order of a day's parts in figures. */
  order: 'dmy' | 'mdy'
  /** How a day is written, in the letters of the day field; MMM is a month's short name. */
  day: string
}

const NARROW = '\u00a0'
export const FORMATS = {
  house: { group: NARROW, decimal: '.', order: 'dmy', day: 'D MMM YYYY' },
  comma: { group: '.', decimal: ',', order: 'dmy', day: 'DD.MM.YYYY' },
  point: { group: ',', decimal: '.', order: 'dmy', day: 'DD/MM/YYYY' },
  month: { group: ',', decimal: '.', order: 'mdy', day: 'MM/DD/YYYY' },
} as const satisfies Record<string, Format>
export type FormatName = keyof typeof FORMATS

const name = ref<FormatName>('house')
export const formatName = computed(() => name.value)
export const format = computed<Format>(() => FORMATS[name.value])

/** A format by an example: "1 234.50 · 26 Nov 2026". */
export function sample(which: FormatName): string {
  const { group, decimal, day } = FORMATS[which]
  const written = day
    .replace('YYYY', '2026')
    .replace('MMM', 'Nov')
    .replace('MM', '11')
    .replace(/DD?/, '26')
  return `1${group}234${decimal}50 · ${written}`
}

export function useFormat(chosen: string | undefined): void {
  name.value = chosen && chosen in FORMATS ? (chosen as FormatName) : 'house'
}
