export default {
  states: {
    draft: 'draft',
    issued: 'issued',
    lapsed: 'lapsed',
    declined: 'declined',
    ordered: 'ordered',
  },
} as const
