export default {
  undo: 'Undo',
  wrong: 'Something went wrong.',
  faults: {
    offline: 'The server does not answer.',
    cut: 'The answer broke off; nothing is sure. Look before sending again.',
    status: 'The server answered {status}.',
  },
  step: { notYet: 'Not yet', keepIt: 'Keep it', close: 'Close' },
  pick: { looking: 'Looking…' },
  checks: 'Checks',
  sums: { all: 'All sums' },
  day: {
    hint: 'a day',
    none: '“{text}” is no day: write it as 12.3., as 12 Mar, or as +7',
    before: 'Not before {day}',
  },
  load: {
    failed: 'This cannot be shown',
    again: 'Try again',
    home: 'To the first page',
    loading: 'Loading',
  },
} as const
