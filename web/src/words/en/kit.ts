export default {
  undo: 'Undo',
  wrong: 'Something went wrong.',
  faults: {
    offline: 'The server does not answer.',
    cut: 'The answer broke off; nothing is sure. Look before sending again.',
    status: 'The server answered {status}.',
  },
  load: {
    failed: 'This cannot be shown',
    again: 'Try again',
    loading: 'Loading',
  },
} as const
