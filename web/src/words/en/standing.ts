export default {
  fine: 'Nothing overdue, and within the limit.',
  balance: 'Open balance',
  leftOf: 'Left of {limit}',
  limit: 'Credit limit',
  leftOfGroup: 'Left of the group’s {limit}',
  reasons: {
    held: 'Held by the back office.',
    overdue_beyond_tolerance:
      'Overdue by {n} day: longer than is tolerated. | Overdue by {n} days: longer than is tolerated.',
    over_limit: '{amount} over the credit limit.',
    over_limitAfter: '{amount} over the credit limit after this quote.',
    over_limitGroup: '{amount} over the group’s credit limit.',
    over_limitGroupAfter: '{amount} over the group’s credit limit after this quote.',
    heldParent: 'The parent of the group is held by the back office.',
    overdue_beyond_toleranceParent:
      'The parent of the group is overdue by {n} day: longer than is tolerated. | The parent of the group is overdue by {n} days: longer than is tolerated.',
    overdue: '{amount} overdue, the oldest by {n} day. | {amount} overdue, the oldest by {n} days.',
    near_limit: 'Only {amount} left of the limit.',
    near_limitAfter: 'Only {amount} left of the limit after this quote.',
    nothingLeft: 'Nothing left of the limit.',
    near_limitGroup: 'Only {amount} left of the group’s limit.',
    near_limitGroupAfter: 'Only {amount} left of the group’s limit after this quote.',
    nothingLeftGroup: 'Nothing left of the group’s limit.',
    no_limit: 'No credit limit is set yet.',
    stale:
      'The back office has not answered for a day: the figures are that old. | The back office has not answered for {n} days: the figures are that old.',
  },
} as const
