/** What has become of a document. */
export default {
  quote: {
    draft: 'Draft',
    issued: 'Issued',
    lapsed: 'Lapsed',
    declined: 'Declined',
    ordered: 'Ordered',
  },
  order: {
    ready: 'To hand over',
    waiting: 'Waiting',
    under_way: 'Under way',
    refused: 'Refused',
    held: 'Held',
    taken: 'Taken',
    part_shipped: 'Part shipped',
    shipped: 'Shipped',
    part_invoiced: 'Part invoiced',
    invoiced: 'Invoiced',
    part_paid: 'Part paid',
    paid: 'Paid',
  },
  invoice: { open: 'Open', part_paid: 'Part paid', paid: 'Paid', used: 'Used' },
} as const
