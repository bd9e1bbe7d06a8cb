/** Where leads come from, in words. */
import { t } from '@/words'

export const SOURCES = ['fair', 'recommended', 'called', 'mail', 'website', 'visit', 'other'] as const // prettier-ignore
export type Source = (typeof SOURCES)[number]

export const sourceName = (source: string) =>
  source ? t(`leads.sources.${source as Source}`) : t('leads.sources.unsaid')
export const sourceChoices = () =>
  SOURCES.map((value) => ({ value, label: t(`leads.sources.${value}`) }))
