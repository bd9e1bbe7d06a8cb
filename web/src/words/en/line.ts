export default {
  instead: 'instead: ',
  option: 'option: ',
  heading: 'Heading',
  note: 'Note',
  reads: {
    doubt:
      '“{text}” could be {one} or {other}: write it without the sign between the digits, or with another decimal.',
    quantity: 'A quantity is a number above 0, as 12 or 2.5',
    price: 'A price is a number, as 8.90; empty asks the rules',
    percent: 'A percent lies between 0 and 100',
    amount: 'An amount is a number, as 45 or 12.50 {currency}',
    discount: 'A discount is a percent, as 5, or an amount, as 12.50 {currency}',
  },
} as const
