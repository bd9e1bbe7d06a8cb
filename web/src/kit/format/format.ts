/** Figures and days as they are shown, and a quantity with its unit. */
export * from './day'
export * from './number'
import { i18n } from '@/words'
import { figure } from './number'

/**
 * A unit in a sentence: "10 pieces", "1 box". The units' own names are singular and English; where
 * the words are in another language, the name stands as it is.
 */
export function units(quantity: string, name: string): string {
  const plural = i18n.global.locale.value === 'en' && quantity !== '1'
  const many = /(x|s|ch|sh)$/.test(name) ? `${name}es` : `${name}s`
  return `${figure(quantity)} ${plural ? many : name}`
}
