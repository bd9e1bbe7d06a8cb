/** Where an order of a quote is written. */
export const ordering = (revision: number) => `/orders/new?from=${revision}`
