/** Words of the trade that several areas show. */
export default {
  verdicts: { clear: 'Clear', caution: 'Caution', halt: 'Halt' },
} as const
