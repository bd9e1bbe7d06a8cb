/** Finished figures for the eye. Amounts arrive as decimal text and are never computed with. */
import { format } from './person'

const MINUS = '\u2212'
const NUMBER = /^-?\d+(\.\d+)?$/

/**
 * An amount or quantity with grouped thousands and a true minus; decimals stay as they came. What
 * is no number stays as it is; nothing is a dash.
 */
export function figure(value: string | number | null | undefined): string {
  if (value === null || value === undefined || value === '') return '—'
  const text = String(value)
  if (!NUMBER.test(text)) return text
  const { group, decimal } = format.value
  const [whole = '', rest] = text.replace('-', '').split('.')
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, group)
  return (text.startsWith('-') ? MINUS : '') + grouped + (rest ? `${decimal}${rest}` : '')
}

/** An amount without its decimals, for places where only the size matters. */
export function rough(value: string): string {
  return figure(value.split('.')[0])
}

/** How large an amount is, for a chart's bar or a chip's height; never shown, never summed. */
export function size(value: string): number {
  return Number.parseFloat(value)
}

/** Whether an amount is nothing, however many decimals its currency has. */
export function isNothing(value: string | null | undefined): boolean {
  return !value || /^-?0+(\.0+)?$/.test(value)
}
