/** Words of the trade that several areas show. */
export default {
  confidence: { sure: 'Sure', likely: 'Likely', stretch: 'Stretch' },
  verdicts: { clear: 'Clear', caution: 'Caution', halt: 'Halt' },
} as const
