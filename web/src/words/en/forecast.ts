export default {
  formula: 'amount × probability, by month of expected decision',
  chart: 'Weighted by month and stage',
  chartHint: '{currency}; a bar opens its deals',
  bar: '{stage}, {month}: {amount} weighted',
  month: '{month}: {amount} weighted',
  monthHead: 'Month',
  total: 'Total',
  byStage: 'By stage',
  byRep: 'By rep',
} as const
