/** How sure the rep is of a deal. */
import { t } from '@/words'

export const CONFIDENCES = ['sure', 'likely', 'stretch'] as const
export type Confidence = (typeof CONFIDENCES)[number]

export const confidenceName = (confidence: Confidence) => t(`words.confidence.${confidence}`)
export const confidenceChoices = () =>
  CONFIDENCES.map((value) => ({ value, label: confidenceName(value) }))
