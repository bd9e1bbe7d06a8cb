/** Figures and days as they are shown, and a quantity with its unit. */
export * from './day'
export * from './number'
import { i18n } from '@/words'
import { day } from './day'
import { figure } from './number'

/** A fact of a sentence as it is written: days and amounts in the person's format. */
export function fact(value: string | number): string {
  if (typeof value === 'number' || /^-?\d+\.\d+$/.test(value)) return figure(value)
  return /^\d{4}-\d\d-\d\d$/.test(value) ? day(value) : value
}

/**
 * A unit in a sentence: "10 pieces", "1 box". The units' own names are singular and English; where
 * the words are in another language, the name stands as it is.
 */
export function units(quantity: string, name: string): string {
  const plural = i18n.global.locale.value === 'en' && quantity !== '1'
  const many = /(x|s|ch|sh)$/.test(name) ? `${name}es` : `${name}s`
  return `${figure(quantity)} ${plural ? many : name}`
}
