/** What several areas show of a customer, an item, the Route, the diary. */
export default {
  customer: {
    label: 'Customer',
    hint: 'Type a few letters of the name',
    nothing: 'No customer by that name',
    fresh: 'new customer',
    likely: 'Perhaps they are here already:',
    takeThis: 'Take this one',
    colleague: 'with {name}',
    why: {
      name_same: 'the same name',
      name_near: 'a similar name',
      tax: 'the same tax number',
      phone: 'the same phone',
      domain: 'the same mail domain',
    },
  },
  route: {
    start: 'Start a quote',
    label: 'The Route',
    stops: {
      deal: 'Deal',
      quote: 'Quote',
      order: 'Order',
      handover: 'Handover',
      delivery: 'Delivery',
      invoice: 'Invoice',
      payment: 'Payment',
    },
    notes: {
      draft: 'draft',
      issued: 'issued',
      no_goods: 'no goods to ship',
      waiting: 'waiting',
      under_way: 'under way',
      refused: 'refused',
      held: 'held',
    },
    states: {
      reached: 'reached',
      here: 'where we are',
      ahead: 'still ahead',
      trouble: 'needs care',
      open: 'still open',
    },
  },
  item: {
    label: 'Item',
    hint: 'Type letters of an item',
    nothing: 'No item with these letters',
    gone: 'an item that is gone',
  },
} as const
