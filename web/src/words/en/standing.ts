export default {
  fine: 'Nothing overdue, and within the limit.',
  balance: 'Open balance',
  leftOf: 'Left of {limit}',
  limit: 'Credit limit',
  reasons: {
    held: 'Held by the back office.',
    overdue_beyond_tolerance:
      'Overdue by {n} day: longer than is tolerated. | Overdue by {n} days: longer than is tolerated.',
    over_limit: '{amount} over the credit limit.',
    over_limitAfter: '{amount} over the credit limit after this quote.',
    overdue: '{amount} overdue, the oldest by {n} day. | {amount} overdue, the oldest by {n} days.',
    near_limit: 'Only {amount} left of the limit.',
    near_limitAfter: 'Only {amount} left of the limit after this quote.',
    nothingLeft: 'Nothing left of the limit.',
    no_limit: 'No credit limit is set yet.',
    stale:
      'The back office has not answered for a day: the figures are that old. | The back office has not answered for {n} days: the figures are that old.',
  },
} as const
