/** What a price is for, where it is not one of the line's own unit: " /100 piece". */
import { figure } from '@/kit/format/format'

interface PricedFor {
  price?: string | null
  per: string | null
  unit: string
}

export function per(
  priced: PricedFor | undefined,
  unit: string,
  names: Record<string, string>,
): string {
  if (!priced?.price || !priced.per) return ''
  if (priced.unit === unit && priced.per === '1') return ''
  const many = priced.per === '1' ? '' : `${figure(priced.per)} `
  return `/${many}${names[priced.unit] ?? priced.unit}`
}
