export default {
  at: 'When',
  customer: 'Customer',
  who: 'With',
  toWhom: '{who} to {whom}',
  subject: 'Subject',
  files: 'Files',
  way: 'Which way',
  ways: { in: 'Came in', out: 'Went out' },
  find: 'Find in mails',
  none: 'No mail',
  noneHint: 'What is written to customers and what they answer stands here.',
  inFilter: '{n} mail in this filter | {n} mails in this filter',
} as const
