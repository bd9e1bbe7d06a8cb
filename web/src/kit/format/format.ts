/** Figures, days and counts as they are shown. */
export * from './day'
export * from './number'
import { figure } from './number'

/** A forecast month in words. */
export function month(key: string): string {
  return key === 'overdue' ? 'Date gone by' : monthOf(key)
}
import { monthOf } from './day'

/** A count with its word. */
export function count(n: number, one: string, many: string = `${one}s`): string {
  return `${n} ${n === 1 ? one : many}`
}

/** A unit in a sentence: "10 pieces", "1 box". The units' own names are singular. */
export function units(quantity: string, name: string): string {
  const many = quantity === '1' ? name : /(x|s|ch|sh)$/.test(name) ? `${name}es` : `${name}s`
  return `${figure(quantity)} ${many}`
}
