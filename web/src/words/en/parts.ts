/** What several areas show of a customer, an item, the Route, the diary. */
export default {
  customer: {
    label: 'Customer',
    hint: 'Type a few letters of the name',
    nothing: 'No customer by that name',
    fresh: 'new customer',
  },
  route: {
    start: 'Start a quote',
    label: 'The Route',
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
