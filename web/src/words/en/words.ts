/** Words of the trade that several areas show. */
export default {
  confidence: { sure: 'Sure', likely: 'Likely', stretch: 'Stretch' },
  quoteStates: {
    draft: 'Draft',
    issued: 'Issued',
    lapsed: 'Lapsed',
    declined: 'Declined',
    ordered: 'Ordered',
  },
  verdicts: { clear: 'Clear', caution: 'Caution', halt: 'Halt' },
} as const
